export * from './defaults';
export * from './rule-given';
export * from './likeness';
export * from './terms';
export * from './shifts';
export * from './variants';
export * from './vocabulary';
export * from './cells';
