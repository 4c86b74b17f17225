/** What of demand a rule counts. */
export const COUNTED: Readonly<Record<string, string>> = {
  orders: 'orders only; its planning rule leaves the forecast out',
  forecast: 'this forecast alone',
  both: 'this forecast and the orders in full',
  consume: 'orders, and what of this forecast they leave',
};
