export * from './journal';
export * from './payment-terms';
