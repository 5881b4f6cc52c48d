import type { PageSettings } from '../../../src/core/formats/page/settings'

/** What the file holds beside its script. */
export interface PageData {
  readonly bundle: { readonly title: string }
  readonly settings: PageSettings
  /** Under what a browser keeps how far one is: the same for all versions of a story. */
  readonly story: string
  /** Which version it is, for records of how somebody played. */
  readonly version: string
}

/** The data that stands in the page; undefined where it is damaged. */
export function pageData(): PageData | undefined {
  try {
    return JSON.parse(document.getElementById('story')?.textContent ?? '') as PageData
  } catch {
    return undefined
  }
}
