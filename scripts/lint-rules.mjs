/** What a file exports is named, so that one sees where a thing comes from. */
const noExportAll = {
  create: (context) => ({
    ExportAllDeclaration: (node) => context.report({ node, message: 'name what is exported' }),
  }),
}

const plugin = { meta: { name: 'paper-compass' }, rules: { 'no-export-all': noExportAll } }

export default plugin
