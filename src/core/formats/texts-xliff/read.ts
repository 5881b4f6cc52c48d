import { DOMParser, type Element, type Node } from '@xmldom/xmldom'
import { fail, ok, type Result } from '../../base/result'
import type { IncomingFile } from '../../texts/files'
import type { IncomingText } from '../../texts/incoming'
import { textOf } from '../payload'

const NAMESPACE = 'urn:oasis:names:tc:xliff:document:2.0'

/** Reads XLIFF 2: units whose name is a key; the codes in them as what they stand for. */
export function readXliff(bytes: Uint8Array): Result<IncomingFile> {
  const text = textOf(bytes)
  if (!text.ok) return text
  // no XLIFF file needs entities, and theirs can grow without bound
  if (/<!(DOCTYPE|ENTITY)/i.test(text.value)) return fail('this file declares entities, which no XLIFF file needs')
  let root: Element | null
  try {
    const stop = (_: string, message: string) => {
      throw new Error(message)
    }
    root = new DOMParser({ onError: stop }).parseFromString(
      text.value.replace(/^\uFEFF/, ''),
      'text/xml',
    ).documentElement
  } catch (error) {
    return fail(`this is no XML that can be read: ${(error as Error).message.split('\n')[0]}`)
  }
  if (root?.localName !== 'xliff') return fail('this is no XLIFF file')
  const version = root.getAttribute('version') ?? ''
  if (!version.startsWith('2.') || root.namespaceURI !== NAMESPACE)
    return fail(`this is XLIFF ${version || 'of an unknown version'}; save it as XLIFF 2.0 or 2.1`)
  const texts = [...root.getElementsByTagNameNS(NAMESPACE, 'unit')].flatMap(unitOf)
  if (texts.length === 0) return fail('there is no unit with a key for a name in this XLIFF file')
  const language = root.getAttribute('trgLang')
  return ok({ ...(language ? { language } : {}), texts })
}

function unitOf(unit: Element): IncomingText[] {
  const key = unit.getAttribute('name')
  if (!key) return []
  const all = (name: string) => [...unit.getElementsByTagNameNS(NAMESPACE, name)]
  const note = (category: string) =>
    all('note').find((one) => one.getAttribute('category') === category && one.parentNode?.parentNode === unit)
  const data = new Map(all('data').map((one) => [one.getAttribute('id') ?? '', plainOf(one, () => '')]))
  const parts = [...unit.childNodes].filter((one) => isElement(one, 'segment') || isElement(one, 'ignorable'))
  const codes = new Map<string, string>()
  const contentOf = (name: 'source' | 'target') => {
    const found = parts.flatMap((part) => [...part.childNodes].filter((child) => isElement(child, name)))
    return found.length === 0
      ? undefined
      : found
          .map((one) =>
            plainOf(one, (code) => {
              const id = code.getAttribute('id') ?? ''
              const meant =
                data.get(code.getAttribute('dataRef') ?? '') ?? codes.get(id) ?? code.getAttribute('equiv') ?? ''
              if (name === 'source') codes.set(id, meant)
              return meant
            }),
          )
          .join('')
  }
  const written = contentOf('source')
  const source = jsonText(note('source')?.textContent) ?? written
  const states = parts.filter((one) => isElement(one, 'segment')).map((one) => one.getAttribute('state'))
  const isChecked = states.length > 0 && states.every((state) => state === 'final' || state === 'reviewed')
  const was = /^[0-9a-f]{1,8}$/.exec(note('was')?.textContent ?? '')?.[0]
  return [
    {
      key,
      text: contentOf('target') ?? '',
      ...(source === undefined ? {} : { source }),
      state: isChecked ? 'checked' : 'draft',
      ...(was === undefined ? {} : { was }),
    },
  ]
}

function isElement(node: Node, name: string): node is Element {
  return node.nodeType === 1 && (node as Element).localName === name
}

/** The text of an element, with code points that XML can't hold, and codes as `meant` says. */
function plainOf(node: Node, meant: (code: Element) => string): string {
  return [...node.childNodes]
    .map((child) => {
      if (child.nodeType === 3 || child.nodeType === 4) return child.nodeValue ?? ''
      if (child.nodeType !== 1) return ''
      if (isElement(child, 'cp')) return String.fromCodePoint(Number.parseInt(child.getAttribute('hex') ?? '20', 16))
      if (isElement(child, 'ph')) return meant(child)
      return plainOf(child, meant)
    })
    .join('')
}

function jsonText(json: string | null | undefined): string | undefined {
  try {
    const text: unknown = JSON.parse(json ?? '')
    return typeof text === 'string' ? text : undefined
  } catch {
    return undefined
  }
}
