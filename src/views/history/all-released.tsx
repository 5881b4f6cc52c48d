'use client'

import { Box, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { useState } from 'react'
import type { Job } from '../../core/contract/jobs'
import type { FarCarried } from '../../core/survey/carry/carried'
import { jobsApi } from '../../session/jobs-api'
import { isUnderWay } from '../../session/server-work'
import { Plain, Quiet } from '../../ui/buttons'
import { said } from '../shared/said'
import { useMayWrite, useSession, useSessionState } from '../shared/session/use-session'
import { ServerWork } from '../shared/work/server-work'

/** What becomes of the saves of every released version, however many and however long it takes. */
export function AllReleased() {
  const session = useSession()
  const mayAsk = useMayWrite()
  const isUnder = useSessionState(({ jobs }) => jobs?.jobs.some((job) => job.ask.kind === 'carry' && isUnderWay(job)))
  const [shown, setShown] = useState<{ readonly job: string; readonly carried: readonly FarCarried[] }>()
  const begin = async () => {
    const begun = await session.work.begin({ kind: 'carry' })
    if (!begun.ok) session.tell(begun.error.message)
  }
  const show = async ({ id }: Job) => {
    if (shown?.job === id) return setShown(undefined)
    const carried = await jobsApi.carried(session.id, id)
    if (carried.ok) setShown({ job: id, carried: carried.value })
    else session.tell(carried.error.message)
  }
  return (
    <Box mt="2">
      {mayAsk && isUnder === false && (
        <Plain
          onClick={() => void begin()}
          title="Every save of every released version, in the story as it is saved now"
        >
          Look at all released versions on the server
        </Plain>
      )}
      <Box mt="2">
        <ServerWork kind="carry" counts="versions" says={() => 'Saves of all released versions'}>
          {(job) => (
            <Quiet color="needle" aria-expanded={shown?.job === job.id} onClick={() => void show(job)}>
              {shown?.job === job.id ? 'Put it away' : 'Show'}
            </Quiet>
          )}
        </ServerWork>
        {shown?.carried.map(({ version, revision, carried: { findings, complete } }) => (
          <Text key={revision} fontSize="sm" data-all-released={revision}>
            <Quiet asChild color="ink">
              <Link href={`?from=${revision}`}>“{version}”</Link>
            </Quiet>
            {findings.length === 0
              ? complete
                ? 'nothing happens to those who play it'
                : 'nothing was found as far as was looked'
              : `${said(findings.length, 'finding')}${complete ? '' : ', and not all was looked at'}`}
          </Text>
        ))}
      </Box>
    </Box>
  )
}
