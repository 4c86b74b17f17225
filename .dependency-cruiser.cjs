/** The rules of the house: which folder may import which. docs/house.md tells why; `npm run rules` draws the arrows. */
const ROOMS = ['catalogue', 'accounts', 'stores', 'selling', 'buying', 'production', 'dispatch', 'returns', 'counter', 'incoming', 'planning'];
/** What each room of the server may ask; whatever is not named tells it by what is handed in at the top. */
const MAY_ASK = {
  catalogue: [],
  accounts: ['catalogue'],
  stores: ['catalogue', 'accounts'],
  selling: ['catalogue', 'accounts', 'stores'],
  buying: ['catalogue', 'accounts', 'stores'],
  production: ['catalogue', 'accounts', 'stores'],
  dispatch: ['catalogue', 'accounts', 'stores', 'selling'],
  returns: ['catalogue', 'accounts', 'stores', 'selling', 'production', 'dispatch'],
  counter: ['catalogue', 'accounts', 'stores', 'selling', 'dispatch', 'returns'],
  incoming: ['catalogue', 'stores', 'selling'],
  planning: ['catalogue', 'accounts', 'stores', 'selling', 'buying', 'production', 'dispatch'],
};
const rooms = ROOMS.join('|');
const above = 'desk|keeping|papers|bulk|setup|testing';
const error = (name, from, to) => ({ name, severity: 'error', from, to });
const notTo = (name, from, to) => error(name, { path: from }, { path: to });

module.exports = {
  forbidden: [
    error('no-circle', {}, { circular: true }),
    notTo('core-knows-nothing', '^core/', '^(contract|server|web|demo|command)/|node_modules/(?!(fast-check|vitest))'),
    notTo('contract-knows-core-only', '^contract/', '^(server|web|demo|command)/'),
    notTo('server-knows-contract-and-core', '^server/', '^(web|demo|command)/'),
    notTo('web-knows-contract-and-core', '^web/', '^(server|demo|command)/'),
    ...ROOMS.map((room) =>
      notTo(
        `${room}-asks-no-other`,
        `^server/src/${room}/`,
        `^server/src/(${[...ROOMS.filter((each) => each !== room && !MAY_ASK[room].includes(each)), above].join('|')})/`,
      ),
    ),
    notTo('rooms-are-put-together-at-the-top', `^server/src/(${rooms}|platform)/`, '^server/src/[^/]+\\.ts$'),
    notTo('platform-knows-no-room', '^server/src/platform/', `^server/src/(${rooms}|${above})/`),
    error(
      'a-room-is-entered-by-its-index',
      { path: `^server/src/(${rooms}|${above})/` },
      { path: `^server/src/(${rooms})/`, pathNot: ['^server/src/$1/', '/index\\.ts$'] },
    ),
    error(
      'the-driver-is-spoken-to-by-platform',
      { path: '^(server|demo|command)/src/', pathNot: '^server/src/platform/' },
      { path: 'better-sqlite3' },
    ),
    error('core-rooms-by-index', { path: '^core/src/([^/]+)/' }, { path: '^core/src/[^/]+/', pathNot: ['^core/src/$1/', '/index\\.ts$'] }),
    notTo('client-knows-no-screen', '^web/src/app/client/', '^web/src/app/(?!client/)'),
    notTo('ui-knows-no-room', '^web/src/app/ui/', '^web/src/app/(?!ui/|client/)'),
    notTo('shell-knows-no-room', '^web/src/app/shell/', '^web/src/app/(?!shell/|ui/|client/)'),
    notTo('rooms-know-no-shell', `^web/src/app/(${rooms}|today|bulk|setup)/`, '^web/src/app/[^/]+\\.ts$'),
    error(
      'a-web-room-is-entered-by-its-index',
      { path: `^web/src/app/(${rooms}|today|bulk|setup)/` },
      { path: `^web/src/app/(${rooms}|today|bulk|setup)/`, pathNot: ['^web/src/app/$1/', '/index\\.ts$'] },
    ),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '\\.spec\\.ts$|/dist/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['types', 'import', 'default'] },
  },
};
