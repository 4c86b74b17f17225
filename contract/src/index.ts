import { accountsRoutes } from './accounts';
import { bulkRoutes } from './bulk';
import { buyingRoutes } from './buying';
import { catalogueRoutes } from './catalogue';
import { counterRoutes } from './counter';
import { dispatchRoutes } from './dispatch';
import { incomingRoutes } from './incoming';
import { planningRoutes } from './planning';
import { platformRoutes } from './platform';
import { productionRoutes } from './production';
import { returnsRoutes } from './returns';
import { sellingRoutes } from './selling';
import { setupRoutes } from './setup';
import { storesRoutes } from './stores';

export * from './accounts';
export * from './base/notices';
export * from './base/rights';
export * from './base/route';
export * from './base/schemas';
export * from './bulk';
export * from './buying';
export * from './catalogue';
export * from './counter';
export * from './dispatch';
export * from './incoming';
export * from './planning';
export * from './platform';
export * from './production';
export * from './returns';
export * from './selling';
export * from './setup';
export * from './stores';
export * from './views';

/** Every route, by room. */
export const api = {
  platform: platformRoutes,
  catalogue: catalogueRoutes,
  stores: storesRoutes,
  selling: sellingRoutes,
  planning: planningRoutes,
  production: productionRoutes,
  buying: buyingRoutes,
  dispatch: dispatchRoutes,
  accounts: accountsRoutes,
  returns: returnsRoutes,
  counter: counterRoutes,
  incoming: incomingRoutes,
  bulk: bulkRoutes,
  setup: setupRoutes,
} as const;
