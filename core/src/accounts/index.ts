export * from './journal';
