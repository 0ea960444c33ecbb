/** Imports go one way: core <- kinds <- probe; core <- store <- engine; core, store <- app and ui. */
const only = (name, from, allowed) => ({
  name, severity: 'error',
  from: { path: from },
  to: { path: '^(src|app|standins|scripts|tests)/', pathNot: allowed }
})
module.exports = {
  forbidden: [
    only('core-imports-core', '^src/core/(?!.*test)', '^src/core/'),
    only('kinds-import-core', '^src/kinds/', '^src/(core|kinds)/'),
    only('probe-imports-kinds-and-core', '^src/probe/', '^(src/(core|kinds|probe)/|standins/links/)'),
    only('store-imports-core', '^src/store/', '^src/(core|store|kinds/definitions)'),
    only('channels-import-core', '^src/channels/', '^src/(core|channels)/'),
    only('engine-imports-core-store-channels', '^src/engine/', '^src/(core|store|engine|channels|kinds/definitions)'),
    only('paper-imports-nothing', '^src/paper/', '^src/paper/'),
    only('aside-imports-core', '^src/aside/', '^src/(core|aside)/'),
    only('ui-imports-core', '^src/ui/', '^src/(core|ui|kinds/definitions|kinds/[a-z0-9]+/target)|^app/actions/'),
    { name: 'no-sql-outside-the-store', severity: 'error', from: { path: '^(src|app)/', pathNot: '^src/(store|kinds/mysql)/' }, to: { path: 'node_modules/mysql2' } },
    { name: 'no-input-or-output-in-the-core', severity: 'error', from: { path: '^src/core/', pathNot: '\\.test\\.ts$' }, to: { dependencyTypes: ['core'], pathNot: '^(node:)?(buffer|crypto)$' } },
    { name: 'no-interface-in-the-core', severity: 'error', from: { path: '^src/core/' }, to: { path: 'node_modules/(react|next|@mantine)' } },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } }
  ],
  options: { doNotFollow: { path: 'node_modules' }, tsConfig: { fileName: 'tsconfig.json' }, tsPreCompilationDeps: true, exclude: { path: '\\.next|build/' } }
}
