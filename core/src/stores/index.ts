export * from './ledger';
export * from './cost';
export * from './reservation';
export * from './projection';
