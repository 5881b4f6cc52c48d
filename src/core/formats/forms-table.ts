import type { Form, Use } from './form'

const USES: readonly (readonly [Use, string])[] = [
  ['texts', 'texts out and in'],
  ['copy', 'copies out'],
  ['voices', 'voices out'],
  ['chart', 'state charts out'],
  ['proofs', 'edited copies in'],
  ['manuscript', 'manuscripts in'],
]

/** The forms as a table in Markdown, a row for each use. */
export function formsTable(forms: readonly Form[]): string {
  const rows = USES.flatMap(([use, name]) =>
    forms.flatMap((form) => {
      const way = form[use]
      return way === undefined
        ? []
        : [`| ${name} | ${form.name} (\`${form.id}\`, ${form.endings.join(' ')}) | ${way.says} |`]
    }),
  )
  return ['| what | form | for whom |', '| --- | --- | --- |', ...rows].join('\n')
}
