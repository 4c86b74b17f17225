/** How every list is read, by the address of its route: for the thread that writes lists as files. */
import type { AnyRoute } from '@terrace/contract';
import { bindAccounts } from '../accounts';
import { bindBuying } from '../buying';
import { bindCatalogue } from '../catalogue';
import { bindDesk } from '../desk';
import { bindDispatch } from '../dispatch';
import { bindCounter } from '../counter';
import { bindIncoming } from '../incoming';
import { bindReturns } from '../returns';
import { bindPlanningLists } from '../planning';
import type { Commands } from '../platform/commands';
import type { ListService, RouteBinder } from '../platform/http';
import { bindProduction } from '../production';
import { bindSelling } from '../selling';
import { bindStores } from '../stores';

/** Listens to what the rooms bind and keeps the lists; nothing else is answered here. */
class ListCollector implements RouteBinder {
  readonly lists = new Map<string, ListService>();

  constructor(readonly commands: Commands) {}

  readonly read = (): void => undefined;
  readonly command = (): void => undefined;
  readonly change = (): void => undefined;
  readonly task = (): void => undefined;
  readonly ask = (): void => undefined;
  readonly written = (): void => undefined;
  readonly list = <R extends AnyRoute>(route: R, service: ListService<R>): void => {
    this.lists.set(route.path, service);
  };
}

/** All lists. */
export function listServices(commands: Commands): ReadonlyMap<string, ListService> {
  const collector = new ListCollector(commands);
  for (const bind of [
    bindDesk,
    bindCatalogue,
    bindStores,
    bindSelling,
    bindBuying,
    bindProduction,
    bindDispatch,
    bindReturns,
    bindCounter,
    bindIncoming,
    bindAccounts,
    bindPlanningLists,
  ])
    bind(collector);
  return collector.lists;
}
