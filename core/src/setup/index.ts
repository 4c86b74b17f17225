export * from './countries';
export * from './ground';
export * from './founding-code';
export * from './bins';
export * from './picture';
export * from './backups';
export * from './condition';
