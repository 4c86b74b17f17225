/** Orders that customers sent as files: two in the tray, one that became a draft by itself. */
import { addDays } from '@terrace/core';
import { incoming } from '@terrace/server';
import type { Perform } from './known';

const NAMESPACES = [
  'xmlns="urn:oasis:names:specification:ubl:schema:xsd:Order-2"',
  'xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2"',
  'xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2"',
].join(' ');

interface Line {
  readonly theirs: string;
  readonly name: string;
  readonly quantity: string;
  readonly unit: string;
  readonly price: string;
}

function ublOrder(number: string, buyer: string, wanted: string, lines: readonly Line[]): string {
  const body = lines.map(
    ({ theirs, name, quantity, unit, price }, index) => `  <cac:OrderLine>
    <cac:LineItem>
      <cbc:ID>${index + 1}</cbc:ID>
      <cbc:Quantity unitCode="${unit}">${quantity}</cbc:Quantity>
      <cac:Price><cbc:PriceAmount currencyID="EUR">${price}</cbc:PriceAmount></cac:Price>
      <cac:Item>
        <cbc:Name>${name}</cbc:Name>
        <cac:BuyersItemIdentification><cbc:ID>${theirs}</cbc:ID></cac:BuyersItemIdentification>
      </cac:Item>
    </cac:LineItem>
  </cac:OrderLine>`,
  );
  return `<?xml version="1.0" encoding="UTF-8"?>
<Order ${NAMESPACES}>
  <cbc:ID>${number}</cbc:ID>
  <cbc:IssueDate>${addDays(wanted, -20)}</cbc:IssueDate>
  <cbc:DocumentCurrencyCode>EUR</cbc:DocumentCurrencyCode>
  <cac:BuyerCustomerParty>
    <cac:Party><cac:PartyName><cbc:Name>${buyer}</cbc:Name></cac:PartyName></cac:Party>
  </cac:BuyerCustomerParty>
  <cac:Delivery><cac:RequestedDeliveryPeriod><cbc:EndDate>${wanted}</cbc:EndDate></cac:RequestedDeliveryPeriod></cac:Delivery>
${body.join('\n')}
</Order>
`;
}

export function tellIncoming(perform: Perform, today: string): void {
  const came = (name: string, text: string) => perform('tobin', today, (work) => incoming.receiveOrders(work, { name, text }));
  const wanted = addDays(today, 18);
  came(
    'bracken-4711.xml',
    ublOrder('BG-4711', 'Bracken & Daughters Garden Centre'.replace('&', '&amp;'), wanted, [
      { theirs: 'BG-40112', name: 'Bee smoker, large', quantity: '4', unit: 'C62', price: '31.50' },
      { theirs: 'BG-40190', name: 'Honey jars', quantity: '6', unit: 'XTR', price: '9.90' },
    ]),
  );
  came(
    'spring.csv',
    [
      'order;customer;customer name;wanted;item;quantity',
      `S-31;;Meadow bee club;${wanted};JAR-500;240`,
      `S-31;;Meadow bee club;${wanted};STRIPS;10`,
      `S-32;HOLLIN;;${wanted};JAR-500;96`,
      '',
    ].join('\n'),
  );
}
