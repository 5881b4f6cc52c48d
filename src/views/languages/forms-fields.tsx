'use client'

import { Box, Flex } from '@chakra-ui/react'
import { plainId } from '../../core/base/ids'
import { categoriesOf, withCategories } from '../../core/story/text-codes'
import { textParts } from '../../core/story/text-forms'
import { DraftText } from '../shared/fields/draft-text'
import { EditQuiet } from '../shared/fields/edits'

interface Props {
  readonly language: string
  readonly source: string
  readonly text: string
  readonly onCommit: (text: string) => void
}

/** The forms of a text that counts or chooses, each in a field of its own, with the categories by which the language counts. */
export function FormsFields({ language, source, text, onCommit }: Props) {
  if (!/\{\s*\w+\s*,\s*(plural|select)/.test(source)) return null
  const full = withCategories(text, language)
  const parts = textParts(text)?.filter((part) => part.kind === 'forms') ?? []
  if (text === '')
    return (
      <EditQuiet
        title={`With a form for each way in which the language counts: ${categoriesOf(language).join(', ')}`}
        onClick={() => onCommit(withCategories(source, language))}
      >
        begin with the forms of the source
      </EditQuiet>
    )
  return (
    <Box as="section" aria-label="Forms" fontFamily="body" fontSize="sm" dir="ltr" mt="1">
      {parts.flatMap((part) =>
        part.forms.map((form) => (
          <Flex key={`${form.start}`} gap="2" align="baseline">
            <Box as="span" color="faded" w="7rem" flexShrink={0}>
              {plainId(part.argument.id)} {form.key}
            </Box>
            <Box className="field" flex="1" fontFamily="story" lang={language}>
              <DraftText
                label={`${plainId(part.argument.id)} ${form.key}`}
                value={text.slice(form.start, form.end)}
                onCommit={(next) => onCommit(text.slice(0, form.start) + next + text.slice(form.end))}
              />
            </Box>
          </Flex>
        )),
      )}
      {full !== text && (
        <EditQuiet onClick={() => onCommit(full)}>
          add the forms that are missing:{' '}
          {categoriesOf(language)
            .filter((key) => !text.includes(` ${key} {`))
            .join(', ')}
        </EditQuiet>
      )}
    </Box>
  )
}
