/** What the chart can be saved as. */
export const SAVES = [
  { id: 'svg', name: 'SVG', hint: 'a picture with its words, of any size' },
  { id: 'png', name: 'PNG', hint: 'a picture in dots' },
  { id: 'print', name: 'Print on one sheet', hint: 'or as PDF' },
  { id: 'sheets', name: 'Print on several sheets', hint: 'large enough to be read' },
  { id: 'graphml', name: 'GraphML', hint: 'beats and roads for graph programs' },
  { id: 'dot', name: 'DOT', hint: 'for Graphviz' },
] as const
export type SaveAs = (typeof SAVES)[number]['id']
