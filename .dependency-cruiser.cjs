/** The rules of the house: which folder may import which. docs/house.md tells why. */
const rooms = 'catalogue|stores|selling|planning|production|buying|dispatch|accounts';
const notTo = (name, from, to) => ({ name, severity: 'error', from: { path: from }, to: { path: to } });

module.exports = {
  forbidden: [
    { name: 'no-circle', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
    notTo('core-knows-nothing', '^core/', '^(contract|server|web|demo|command)/|node_modules/(?!(fast-check|vitest))'),
    notTo('contract-knows-core-only', '^contract/', '^(server|web|demo|command)/'),
    notTo('server-knows-contract-and-core', '^server/', '^(web|demo|command)/'),
    notTo('web-knows-contract-and-core', '^web/', '^(server|demo|command)/'),
    notTo(
      'catalogue-is-the-ground',
      '^server/src/catalogue/',
      '^server/src/(stores|selling|planning|production|buying|dispatch|accounts|desk|bulk)/',
    ),
    notTo('accounts-asks-none', '^server/src/accounts/', '^server/src/(stores|selling|planning|production|buying|dispatch|desk|bulk)/'),
    notTo('stores-knows-no-orders', '^server/src/stores/', '^server/src/(selling|planning|production|buying|dispatch|desk|bulk)/'),
    notTo('selling-alone', '^server/src/selling/', '^server/src/(planning|production|buying|dispatch|desk|bulk)/'),
    notTo('buying-alone', '^server/src/buying/', '^server/src/(planning|production|selling|dispatch|desk|bulk)/'),
    notTo('production-alone', '^server/src/production/', '^server/src/(planning|buying|selling|dispatch|desk|bulk)/'),
    notTo('dispatch-knows-selling', '^server/src/dispatch/', '^server/src/(planning|buying|production|desk|bulk)/'),
    notTo('platform-knows-no-room', '^server/src/platform/', `^server/src/(${rooms}|desk|keeping|papers|bulk)/`),
    {
      name: 'a-room-is-entered-by-its-index',
      severity: 'error',
      from: { path: `^server/src/(${rooms})/` },
      to: { path: `^server/src/(${rooms})/`, pathNot: ['^server/src/$1/', '/index\\.ts$', '[/-]schema\\.ts$'] },
    },
    {
      name: 'core-rooms-by-index',
      severity: 'error',
      from: { path: '^core/src/([^/]+)/' },
      to: { path: '^core/src/[^/]+/', pathNot: ['^core/src/$1/', '/index\\.ts$'] },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '\\.spec\\.ts$|/dist/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['types', 'import', 'default'] },
  },
};
