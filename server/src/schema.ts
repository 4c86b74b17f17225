/** All tables, for migrations and typed queries. Each room keeps its own. */
export * from './accounts/schema';
export * from './buying/schema';
export * from './bulk/schema';
export * from './catalogue/custom-schema';
export * from './catalogue/party-schema';
export * from './catalogue/schema';
export * from './dispatch/schema';
export * from './planning/schema';
export * from './platform/schema';
export * from './production/schema';
export * from './selling/price-schema';
export * from './selling/schema';
export * from './stores/document-schema';
export * from './stores/schema';
export * from './stores/tracking-schema';
