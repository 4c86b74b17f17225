export * from './problem';
export { plan, planExplained, planLive } from './plan';
export { planWide } from './wide/plan';
export * from './compact/book';
export { LivePlan, SUGGESTION_STRIDE, type NodeOutcome } from './compact/live-plan';
export { PlanWriter, SAFETY, writeResult, type ReasonedSuggestion } from './compact/written';
export { TooWide } from './compact/exact';
export { explainSuggestion } from './why';
export * from './least-cost';
