/** Setting a company up: founding it, people, roles. */
import { foundingRoutes } from './founding';
import { peopleRoutes } from './people';

export type { GuideStep } from './founding';
export type { PeopleView, Person, RoleView } from './people';

export const setupRoutes = { ...foundingRoutes, ...peopleRoutes };
