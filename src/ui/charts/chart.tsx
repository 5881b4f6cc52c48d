'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useRef, type ReactNode } from 'react'
import { saveFile } from '../save-file'
import { Quiet } from '../buttons'

/** The colours of a saved picture, which is read on paper. */
const INK = '#29241f'
const PAPER = '#ffffff'

interface Props {
  readonly title: string
  /** The figures in a sentence, for those who can't see the picture. */
  readonly says: string
  readonly file: string
  readonly width: number
  readonly height: number
  readonly children: ReactNode
}

/** A drawn figure with its name, which can be saved as a picture. All is drawn in the text's own colour, told apart by shape and weight. */
export function Chart({ title, says, file, width, height, children }: Props) {
  const drawing = useRef<SVGSVGElement>(null)
  const save = () => {
    const copy = drawing.current!.cloneNode(true) as SVGSVGElement
    copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
    copy.setAttribute('width', String(width))
    copy.setAttribute('height', String(height))
    copy.setAttribute('color', INK)
    copy.removeAttribute('style')
    const ground = document.createElementNS('http://www.w3.org/2000/svg', 'rect')
    for (const [name, value] of Object.entries({ width: String(width), height: String(height), fill: PAPER }))
      ground.setAttribute(name, value)
    const name = document.createElementNS('http://www.w3.org/2000/svg', 'title')
    name.textContent = title
    copy.prepend(name, ground)
    saveFile(`${file}.svg`, new XMLSerializer().serializeToString(copy), 'image/svg+xml')
  }
  return (
    <Box as="figure" aria-label={title} data-chart={file}>
      <Flex align="baseline" gap="3" mb="1">
        <Text as="figcaption" fontWeight={600}>
          {title}
        </Text>
        <Quiet fontSize="sm" aria-label={`Save as SVG: ${title}`} onClick={save}>
          save as SVG
        </Quiet>
      </Flex>
      <svg
        ref={drawing}
        role="img"
        aria-label={says}
        viewBox={`0 0 ${width} ${height}`}
        style={{ width: `${width}px`, maxWidth: '100%', height: 'auto' }}
        fontFamily="'Source Sans 3 Variable', sans-serif"
        fontSize="13"
        fill="currentColor"
      >
        {children}
      </svg>
    </Box>
  )
}
