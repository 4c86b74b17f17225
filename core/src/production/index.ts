export * from './components';
export * from './buildable';
