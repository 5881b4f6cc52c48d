declare module '@scion-scxml/scxml' {
  export class Statechart {
    constructor(model: unknown, options?: { console?: object; snapshot?: unknown })
    start(): void
    gen(event: { readonly name: string; readonly data?: unknown }): string[]
    getSnapshot(): [string[], unknown, boolean, unknown, unknown]
  }
  interface Model {
    prepare(done: (error: Error | null, prepared: unknown) => void): void
  }
  const scxml: {
    documentStringToModel(name: string, text: string, done: (error: Error | null, model: Model) => void): void
    readonly core: { readonly Statechart: typeof Statechart }
  }
  export default scxml
}
