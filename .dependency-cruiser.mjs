/** Circles of imports, `import type` among them: what no other rule sees. */
const config = {
  forbidden: [
    {
      name: 'no-circle',
      comment: 'these files import each other in a circle: cut what they share out into a file of its own',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
  ],
  options: {
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    exclude: { path: ['node_modules', '\\.next'] },
  },
}

export default config
