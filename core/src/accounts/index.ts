export * from './journal';
export * from './payment-terms';
export * from './receivables';
export * from './ubl';
