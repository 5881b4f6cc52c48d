'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useParams } from 'next/navigation'
import { useState } from 'react'
import { formsFor } from '../../core/formats/forms'
import { api } from '../../session/api'
import { Quiet } from '../../ui/buttons'
import { SaveLink } from '../shared/save-link'
import { useSession } from '../shared/session/use-session'

const FORMS = formsFor('chart')

/** State charts of the story, and what they can't express. */
export function Charts() {
  const session = useSession()
  const { id } = useParams<{ id: string }>()
  const [left, setLeft] = useState<readonly string[]>()
  const ask = async (form: string) => {
    const answer = await api.leftOfChart(id, form)
    if (answer.ok) setLeft(answer.value.left)
    else session.tell(answer.error.message)
  }
  return FORMS.map((form) => (
    <Box key={form.id}>
      <Flex gap="3" wrap="wrap" align="center">
        <SaveLink href={api.chartPath(id, form.id)} title={form.chart.says}>
          Save as {form.name}
        </SaveLink>
        <Quiet onClick={() => void ask(form.id)}>What is not in it?</Quiet>
      </Flex>
      <Text color="faded" fontSize="sm" mt="2">
        {form.name}: {form.chart.says}.
      </Text>
      {left !== undefined && (
        <Box role="status" fontSize="sm" mt="2">
          {left.length === 0 ? (
            'The whole course of the story is in it.'
          ) : (
            <Box as="ul" aria-label="Not in the chart" pl="4">
              {left.map((one) => (
                <li key={one}>{one}</li>
              ))}
            </Box>
          )}
        </Box>
      )}
    </Box>
  ))
}
