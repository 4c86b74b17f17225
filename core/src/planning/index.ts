export * from './problem';
export { plan, planExplained, type ExplainedPlan, type SupplyPeg } from './plan';
export { explainSuggestion } from './why';
export * from './least-cost';
