/** People and roles as the server has them, for the pages that change them. */
import { api, type PeopleView } from '@terrace/contract';
import { deskOf, type Desk } from './desk';

/** Loads them, now and whenever they change; `loaded` hears of each time. To be called where things can be injected. */
export function peopleDesk(loaded: () => void): Desk<PeopleView> {
  return deskOf(api.setup.people, { right: 'setup.people', loaded });
}
