export * from './promise';
export * from './order';
export * from './divide';
export * from './consequences';
export * from './price';
export * from './ceiling';
export * from './promise-of-lots';
export * from './rederive';
