/** Setting a company up: founding it, people, roles. */
import { foundingRoutes } from './founding';
import { houseRoutes } from './house';
import { keepingRoutes } from './keeping';
import { mailRoutes } from './mail';
import { peopleRoutes } from './people';
import { placesRoutes } from './places';
import { rulesRoutes } from './rules';
import { scheduleRoutes } from './schedules';
import { terminalRoutes } from './terminals';

export type { GuideStep } from './founding';
export type { AccountsView, House, NumberingView } from './house';
export type { ArchivesView, BackupLook, Keeping } from './keeping';
export type { EveryTokenView, PeopleView, Person, RoleView, TokensView } from './people';
export type { MailSettings, MailView } from './mail';
export type { HouseRules, HouseRulesView } from './rules';
export { scheduledLists, type ScheduledList, type SchedulesView } from './schedules';
export type { TerminalsView } from './terminals';
export type { BinView, PlacesView } from './places';

export const setupRoutes = {
  ...foundingRoutes,
  ...houseRoutes,
  ...keepingRoutes,
  ...peopleRoutes,
  ...placesRoutes,
  ...rulesRoutes,
  ...mailRoutes,
  ...terminalRoutes,
  ...scheduleRoutes,
};
