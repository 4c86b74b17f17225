export * from './promise';
export * from './order';
