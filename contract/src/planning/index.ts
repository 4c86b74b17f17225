/** The plan: its problem, the desk that works from it, forecasts and what would be if. */
import { deskRoutes } from './desk';
import { forecastRoutes } from './forecasting';
import { ruleRoutes } from './rule-routes';
import { whatIfRoutes } from './what-if';

export * from './desk-views';
export * from './forecast';
export * from './forecasting';
export { planProblem } from './problem';
export * from './rules';
export * from './what-if';

export const planningRoutes = { ...deskRoutes, ...ruleRoutes, ...forecastRoutes, ...whatIfRoutes };
