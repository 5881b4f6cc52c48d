/** Bundles TypeScript for Node into folders of their own; what PGlite needs lies beside it, so it is never bundled. */
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
    external: ['@electric-sql/pglite', '@electric-sql/pglite/*', ...external],
    ...rest,
  })
}
