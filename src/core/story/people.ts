import type { DeclaredStory } from './declare'
import { linkCondition } from './link-parts'
import type { LinkedPerson, Problem, Use } from './linked'
import { scopeOf } from './scope'
import { noteReads } from './uses'

/** The cast with the names by which they are shown until the player knows better. */
export function linkPeople(
  declared: DeclaredStory,
  problems: Problem[],
): { readonly people: ReadonlyMap<string, LinkedPerson>; readonly uses: readonly Use[] } {
  const scope = scopeOf(declared, -1)
  const uses: Use[] = []
  const people = new Map<string, LinkedPerson>()
  for (const [id, person] of declared.people) {
    const called = (person.called ?? []).map(({ when, name }, at) => {
      const address = `${id}#called${at + 1}`
      const condition = linkCondition(when, address, { scope, problems })!
      if (condition.expr !== undefined) noteReads(condition.expr, address, 'when', uses)
      return { when: condition, name }
    })
    people.set(id, { id, name: person.name, called })
  }
  return { people, uses }
}
