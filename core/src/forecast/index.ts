export { computeForecast, forecastFitted, type FittedForecast, type ForecastError, type ForecastProblem, type ForecastResult } from './forecast';
export { forecastMethods, type ForecastMethod } from './methods';
export { findOutliers } from './outliers';
