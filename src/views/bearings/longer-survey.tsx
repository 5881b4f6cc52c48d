'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { isUnderWay } from '../../session/server-work'
import { Plain } from '../../ui/buttons'
import { useMayWrite, useSession, useSessionState } from '../shared/session/use-session'
import { ServerWork } from '../shared/work/server-work'

/** Where the page's own survey was cut short: the server goes on with it for longer. */
export function LongerSurvey() {
  const session = useSession()
  const mayAsk = useMayWrite()
  const isUnder = useSessionState(({ jobs }) => jobs?.jobs.some((job) => job.ask.kind === 'survey' && isUnderWay(job)))
  const begin = async () => {
    const begun = await session.work.begin({ kind: 'survey' })
    if (!begun.ok) session.tell(begun.error.message)
  }
  return (
    <Box mb="4">
      <Flex role="status" bg="ochre.wash" px="4" py="2" gap="4" align="center" wrap="wrap">
        <Text flex="1" minW="20rem">
          The survey was cut short: what is listed is certain, and what is marked undecided is not known yet.
        </Text>
        {mayAsk && isUnder === false && (
          <Plain
            onClick={() => void begin()}
            title="For longer and with more memory than a page has; the answer comes here"
          >
            Let the server go on
          </Plain>
        )}
      </Flex>
      <Box mt="2">
        <ServerWork kind="survey" counts="states" says={() => 'The survey to its end'} />
      </Box>
    </Box>
  )
}
