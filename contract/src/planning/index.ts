/** The plan: its problem, the desk that works from it, forecasts and what would be if. */
import { deskRoutes } from './desk';
import { forecastRoutes } from './forecasts';
import { ruleRoutes } from './rule-routes';
import { whatIfRoutes } from './what-if';

export * from './desk-views';
export * from './forecast-problem';
export * from './forecasts';
export { planProblem } from './problem';
export * from './rules';
export * from './what-if';

export const planningRoutes = { ...deskRoutes, ...ruleRoutes, ...forecastRoutes, ...whatIfRoutes };
