export * from './defaults';
export * from './likeness';
export * from './terms';
export * from './variants';
export * from './vocabulary';
export * from './cells';
