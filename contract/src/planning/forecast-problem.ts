/** A forecast to be computed, as `terrace compute forecast` reads it. */
import { z } from 'zod';
import { forecastMethods } from '@terrace/core';

export const forecastProblem = z.object({
  history: z.array(z.string()).max(2000),
  season: z.number().int().min(1).max(400),
  periods: z.number().int().min(1).max(400),
  method: z.enum([...forecastMethods, 'best']),
});
