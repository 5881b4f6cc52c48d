'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useEffect, useState, type ReactNode } from 'react'
import type { Job, JobAsk } from '../../../core/contract/jobs'
import { isUnderWay } from '../../../session/server-work'
import { Quiet } from '../../../ui/buttons'
import { ProgressBar } from '../../../ui/progress-bar'
import { useMayWrite, useSession, useSessionState } from '../session/use-session'
import { sayMoment } from '../when'

/** Of what was asked for, so many are shown. */
const SHOWN = 3

interface Props<Kind extends JobAsk['kind']> {
  readonly kind: Kind
  /** In what it counts how far it is. */
  readonly counts: string
  readonly says: (ask: Extract<JobAsk, { kind: Kind }>) => string
  /** What can be done with one that is done. */
  readonly children?: (job: Job) => ReactNode
}

/** What heavy work of a kind was asked for of this story, how far it is, and what it came to. */
export function ServerWork<Kind extends JobAsk['kind']>({ kind, counts, says, children }: Props<Kind>) {
  const session = useSession()
  const jobs = useSessionState((state) => state.jobs)
  const mayWrite = useMayWrite()
  const [trouble, setTrouble] = useState<string>()
  useEffect(() => void session.work.read(), [session])
  const some = jobs?.jobs.filter(({ ask }) => ask.kind === kind).slice(0, SHOWN) ?? []
  const stop = async (job: string) => {
    const ended = await session.work.cancel(job)
    setTrouble(ended.ok ? undefined : ended.error.message)
  }
  return (
    <Box as="section" aria-label="Work on the server" fontSize="sm" mb="4" hidden={some.length === 0}>
      {some.map((job) => (
        <Flex key={job.id} align="center" gap="3" py="0.5" wrap="wrap" data-job={job.state}>
          <Text>
            {says(job.ask as Extract<JobAsk, { kind: Kind }>)}
            <Text as="span" color="faded">
              {job.by === null ? '' : `, for ${job.by}`}, {sayMoment(job.madeAt)}
            </Text>
          </Text>
          <Text role="status" color={job.state === 'failed' ? 'needle' : 'faded'}>
            {sayState(job, counts, jobs!.workers)}
          </Text>
          {isUnderWay(job) && job.total > 0 && <ProgressBar label="How far it is" done={job.done} of={job.total} />}
          {isUnderWay(job) && mayWrite && <Quiet onClick={() => void stop(job.id)}>Stop</Quiet>}
          {job.state === 'done' && children?.(job)}
        </Flex>
      ))}
      {trouble !== undefined && (
        <Text role="alert" color="needle">
          {trouble}
        </Text>
      )}
    </Box>
  )
}

function sayState({ state, done, total, failure }: Job, counts: string, workers: number): string {
  switch (state) {
    case 'waiting':
      return workers === 0
        ? 'waits: no worker is running; whoever looks after the server starts one (npm run worker)'
        : 'waits for its turn'
    case 'running':
      return total > 0
        ? `${done.toLocaleString('en')} of ${total.toLocaleString('en')} ${counts}`
        : `${done.toLocaleString('en')} ${counts}`
    case 'done':
      return 'done'
    case 'failed':
      return failure ?? 'failed'
    case 'cancelled':
      return 'stopped'
  }
}
