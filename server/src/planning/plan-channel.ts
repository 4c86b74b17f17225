/** What the server and the planner's thread say to each other. */
import type { Answer, Question } from './ask-plan';
import type { PlanMade } from './planner';

export type ToPlanner =
  | { readonly do: 'changed' }
  | { readonly do: 'whole'; readonly id: number }
  | { readonly do: 'settle'; readonly id: number }
  | { readonly do: 'ask'; readonly id: number; readonly question: Question }
  | { readonly do: 'renew'; readonly id: number }
  | { readonly do: 'close' };

export type FromPlanner =
  | { readonly say: 'planned'; readonly made: PlanMade }
  | { readonly say: 'promised' }
  | { readonly say: 'failed'; readonly message: string }
  | { readonly say: 'damaged' }
  | {
      readonly say: 'answer';
      readonly id: number;
      readonly made?: PlanMade | null;
      readonly answer?: Answer;
      readonly failed?: string;
    };
