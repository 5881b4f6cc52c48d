type Child = Node | string | undefined

/** An element with attributes and children. Text is always text: there is no way in here for markup. */
export function make<Tag extends keyof HTMLElementTagNameMap>(
  tag: Tag,
  attributes: Readonly<Record<string, string | boolean | undefined>> = {},
  ...children: readonly Child[]
): HTMLElementTagNameMap[Tag] {
  const element = document.createElement(tag)
  for (const [name, value] of Object.entries(attributes))
    if (value === true) element.setAttribute(name, '')
    else if (typeof value === 'string') element.setAttribute(name, value)
  element.append(...children.filter((child) => child !== undefined))
  return element
}

export function button(
  text: string,
  press: () => void,
  attributes: Readonly<Record<string, string>> = {},
): HTMLButtonElement {
  const made = make('button', { type: 'button', ...attributes }, text)
  made.addEventListener('click', press)
  return made
}
