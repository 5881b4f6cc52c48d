import mammoth from 'mammoth'
import { fail, type Result } from '../../base/result'
import type { ReadManuscript } from '../manuscript'
import { manuscriptOfHtml } from '../manuscript-html/read'
import { safeArchive } from '../zip/unpack'

/** A title stands above headings of the first rank; what is quoted or said beneath the title is a note. */
const STYLES = [
  "p[style-name='Title'] => h1:fresh",
  ...[1, 2, 3, 4, 5].map((rank) => `p[style-name='heading ${rank}'] => h${rank + 1}:fresh`),
  ...['Subtitle', 'Quote', 'Intense Quote'].map((name) => `p[style-name='${name}'] => blockquote > p:fresh`),
]

/** Reads a DOCX document as a manuscript: its headings, lists, links and paragraphs; pictures are left out. */
export async function readDocx(bytes: Uint8Array): Promise<Result<ReadManuscript>> {
  const archive = safeArchive(bytes, 'word/document.xml', 'DOCX')
  if (!archive.ok) return archive
  try {
    const noImages = mammoth.images.imgElement(() => Promise.resolve({ src: '' }))
    // in Node a buffer is asked for, in a browser its bytes
    const buffer = archive.value.buffer as ArrayBuffer
    const input = { arrayBuffer: buffer, ...(typeof Buffer === 'undefined' ? {} : { buffer: Buffer.from(buffer) }) }
    const { value } = await mammoth.convertToHtml(input, { convertImage: noImages, styleMap: STYLES })
    return manuscriptOfHtml(value)
  } catch {
    return fail('this DOCX file can not be read')
  }
}
