/** Longest name of a file that every system takes, without its ending, in characters. */
const NAME_MAX = 80

/**
 * Names of a file for a title: `full` in its own letters, `ascii` for programs that know no others, made distinct by
 * `mark` where the title has no Latin letters.
 */
export function fileName(
  title: string,
  mark: string,
  ending: string,
): { readonly ascii: string; readonly full: string } {
  const clean = title
    .toWellFormed()
    // what one system or another does not take in a name
    .replace(/[\p{Cc}\p{Cf}\uFFFD<>:"/\\|?*]+/gu, ' ')
    .replace(/\s+/g, ' ')
    .replace(/^[. ]+|[. ]+$/g, '')
  const letters = clean
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[^A-Za-z0-9]+/g, '_')
    .replace(/^_+|_+$/g, '')
    .slice(0, NAME_MAX)
  const isPlain = /^[\p{Script=Latin}\p{N}\p{P}\p{S}\s]+$/u.test(clean)
  const ascii = isPlain && letters !== '' ? letters : [letters, mark].filter((part) => part !== '').join('_')
  const full = [...clean].slice(0, NAME_MAX).join('').trim()
  return { ascii: ascii + ending, full: (full === '' ? mark : full) + ending }
}
