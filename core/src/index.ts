export * from './base';
export * from './stores';
export * from './selling';
export * from './planning';
export * from './forecast';
export * from './production';
export * from './accounts';
export * from './catalogue';
