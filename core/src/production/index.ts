export * from './components';
