'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { useMemo } from 'react'
import { branchesTried, type Branch } from '../../core/play/branches'
import type { LinkedStory } from '../../core/story/linked'
import type { RouteItem } from '../../core/story/types'
import { runName, type Rehearsal } from '../../session/story-session'
import { itemName } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { sayDecision } from '../shared/naming/route-steps'
import { useSession, useSessionState } from '../shared/session/use-session'

/** How far branches are set in, in rem; further ones stay at the last. */
const INDENT = 0.9
const DEEPEST = 8

interface Row {
  readonly branch: Branch
  readonly depth: number
}

/** Rows of the tree: a run goes straight down, and only where it branches are the branches set in. */
function rowsOf(branch: Branch, depth: number, rows: Row[]): Row[] {
  if (branch.decision !== undefined) rows.push({ branch, depth })
  const branches = branch.next.length > 1
  for (const next of branch.next) rowsOf(next, branches ? depth + 1 : depth, rows)
  return rows
}

/** Every run that was tried, as a tree: where one is, what was taken, and where something is left to try. */
export function TriedRuns({ linked, rehearsal }: { linked: LinkedStory; rehearsal: Rehearsal }) {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const { decisions, tried, from } = rehearsal
  const tree = useMemo(
    () =>
      branchesTried(
        linked,
        [...tried].map((run) => JSON.parse(run) as RouteItem[]),
        from,
      ),
    [linked, tried, from],
  )
  const rows = rowsOf(tree, 0, [])
  const current = new Set(decisions.map((_, at) => runName(decisions.slice(0, at + 1))))
  const here = runName(decisions)
  return (
    <Box as="section" aria-label="Runs tried" pt="3">
      <Flex justify="space-between" align="baseline">
        <Heading as="h2" fontSize="sm" fontWeight={600} color="faded">
          Tried so far
        </Heading>
        {rows.length > decisions.length && (
          <Quiet fontSize="sm" onClick={() => session.forgetTried()}>
            forget the others
          </Quiet>
        )}
      </Flex>
      {rows.length === 0 && (
        <Text color="faded" fontSize="sm">
          Nothing yet. What you try stays here, so that you see what is left.
        </Text>
      )}
      {rows.map(({ branch, depth }) => {
        const name = runName(branch.run)
        const on = current.has(name)
        const left = branch.untried
        return (
          <Quiet
            key={name}
            display="flex"
            w="100%"
            fontSize="sm"
            gap="1.5"
            color={on ? 'ink' : 'faded'}
            fontWeight={name === here ? 600 : 400}
            borderLeft="2px solid"
            borderColor={on ? 'needle' : 'hairline'}
            borderRadius="0"
            aria-current={name === here ? 'step' : undefined}
            style={{
              marginLeft: `${Math.min(depth, DEEPEST) * INDENT}rem`,
              width: `calc(100% - ${Math.min(depth, DEEPEST) * INDENT}rem)`,
            }}
            onClick={() => session.rehearse(branch.run, from)}
            data-branch={branch.run.length}
          >
            <Text as="span" fontFamily="story" truncate flex="1" minW="0">
              {sayDecision(story, branch.decision!)}
            </Text>
            {branch.status === 'ended' && (
              <Text as="span" color="kept" truncate maxW="6rem" title="Ended here">
                {itemName(
                  story,
                  'endings',
                  linked.endings[linked.beats[linked.beatOf.get(branch.at)!]!.ending]?.id ?? '',
                )}
              </Text>
            )}
            {left > 0 && (
              <Text
                as="span"
                color="faded"
                fontWeight={400}
                title={`${left} open ${left === 1 ? 'choice' : 'choices'} not tried from here`}
                data-left={left}
              >
                {left} left
              </Text>
            )}
          </Quiet>
        )
      })}
    </Box>
  )
}
