/** A sequence of moves to be valued, as `terrace compute cost` reads it. */
import { z } from 'zod';

const id = z.string().min(1);
const figure = z.string();

export const costProblem = z.object({
  method: z.enum(['movingAverage', 'fifo', 'standard']),
  currencyDecimals: z.number().int().min(0).max(6),
  standardCost: figure.optional(),
  moves: z.array(
    z.discriminatedUnion('kind', [
      z.object({ id, kind: z.literal('in'), quantity: figure, amount: figure }),
      z.object({ id, kind: z.literal('out'), quantity: figure }),
      z.object({ id, kind: z.literal('lateCost'), of: id, amount: figure }),
      z.object({ id, kind: z.literal('standardCost'), unitCost: figure }),
    ]),
  ),
});
