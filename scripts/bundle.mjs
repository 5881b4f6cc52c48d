/** Bundles TypeScript for Node into folders of their own; what PGlite needs lies beside it, and PostgreSQL's client asks for more than is there, so neither is bundled. */
export async function bundle(options) {
  const { build } = await import('esbuild')
  const { external = [], ...rest } = options
  await build({
    bundle: true,
    platform: 'node',
    mainFields: ['module', 'main'],
    format: 'esm',
    target: 'node20',
    outExtension: { '.js': '.mjs' },
    logLevel: 'warning',
    external: ['@electric-sql/pglite', '@electric-sql/pglite/*', 'pg', ...external],
    ...rest,
  })
}
