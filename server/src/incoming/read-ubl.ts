/**
 * Reads a UBL 2.1 Order (OASIS, ISO/IEC 19845): elements by namespace and name, whatever prefixes a file has. Entities of a
 * document type are never looked up, so that a file can't ask for others or grow without end.
 */
import { SaxesParser, type SaxesTagNS } from 'saxes';
import { Refusal, type IncomingLine, type IncomingOrder } from '@terrace/core';

const ORDER = 'urn:oasis:names:specification:ubl:schema:xsd:Order-2';
const DEEPEST = 40;
const MOST_LINES = 500;

interface Element {
  readonly name: string;
  readonly uri: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: Element[];
  text: string;
}

/** A file as a tree of elements. Refuses `notXml` for what is no well-formed XML, and a document type. */
function treeOf(text: string): Element {
  const root: Element = { name: '', uri: '', attributes: {}, children: [], text: '' };
  const open = [root];
  const parser = new SaxesParser({ xmlns: true });
  parser.on('error', (error) => {
    throw new Refusal('notXml', `This is no well-formed XML: ${error.message}`, { field: 'text' });
  });
  parser.on('doctype', () => {
    throw new Refusal('notXml', 'A document type is declared in it: send it without one.', { field: 'text' });
  });
  parser.on('opentag', (tag: SaxesTagNS) => {
    if (open.length > DEEPEST) throw new Refusal('notXml', `It is nested more than ${DEEPEST} times: that is no order.`, { field: 'text' });
    const attributes = Object.fromEntries(Object.values(tag.attributes).map(({ local, value }) => [local, value]));
    const element: Element = { name: tag.local, uri: tag.uri, attributes, children: [], text: '' };
    open.at(-1)?.children.push(element);
    open.push(element);
  });
  parser.on('text', (more) => {
    const at = open.at(-1);
    if (at) at.text += more;
  });
  parser.on('cdata', (more) => {
    const at = open.at(-1);
    if (at) at.text += more;
  });
  parser.on('closetag', () => void open.pop());
  parser.write(text).close();
  return root;
}

/** The element down a path of names; nothing where there is none. */
function at(element: Element | undefined, ...path: readonly string[]): Element | undefined {
  return path.reduce<Element | undefined>((found, name) => found?.children.find((child) => child.name === name), element);
}
const textAt = (element: Element | undefined, ...path: readonly string[]): string => (at(element, ...path)?.text ?? '').trim();

function addressOf(party: Element | undefined): string {
  const address = at(party, 'DeliveryLocation', 'Address') ?? at(party, 'DeliveryAddress');
  const town = [textAt(address, 'PostalZone'), textAt(address, 'CityName')].filter(Boolean).join(' ');
  return [textAt(address, 'StreetName'), textAt(address, 'AdditionalStreetName'), town, textAt(address, 'Country', 'IdentificationCode')]
    .filter(Boolean)
    .join('\n');
}

function lineOf(line: Element): IncomingLine {
  const item = at(line, 'LineItem');
  const product = at(item, 'Item');
  const quantity = at(item, 'Quantity');
  const base = textAt(item, 'Price', 'BaseQuantity');
  return {
    id: textAt(item, 'ID'),
    theirCode: textAt(product, 'BuyersItemIdentification', 'ID'),
    ourCode: textAt(product, 'SellersItemIdentification', 'ID'),
    barcode: textAt(product, 'StandardItemIdentification', 'ID'),
    description: textAt(product, 'Name') || textAt(product, 'Description'),
    quantity: (quantity?.text ?? '').trim(),
    unit: quantity?.attributes['unitCode'] ?? '',
    price: textAt(item, 'Price', 'PriceAmount'),
    ...(base === '' ? {} : { per: base }),
    requiredDate: textAt(item, 'Delivery', 'RequestedDeliveryPeriod', 'EndDate'),
    note: textAt(line, 'Note') || textAt(item, 'Note'),
  };
}

/** Reads an order. Refuses `notAnOrder`, and one without number or lines. */
export function readUblOrder(text: string): IncomingOrder {
  const order = treeOf(text).children.find((child) => child.name === 'Order');
  if (order?.uri !== ORDER) throw new Refusal('notAnOrder', 'This XML is no UBL 2 Order: ask them for one, or for a CSV file.', { field: 'text' });
  const lines = order.children.filter((child) => child.name === 'OrderLine').map(lineOf);
  if (textAt(order, 'ID') === '') throw new Refusal('notAnOrder', 'The order has no number (ID): ask them for it.', { field: 'text' });
  if (lines.length === 0) throw new Refusal('notAnOrder', 'There is no line in it: there is nothing to order.', { field: 'text' });
  if (lines.length > MOST_LINES) throw new Refusal('tooLarge', `It has ${lines.length} lines: at most ${MOST_LINES} are taken.`, { field: 'text' });
  const buyer = at(order, 'BuyerCustomerParty', 'Party');
  const delivery = at(order, 'Delivery');
  return {
    number: textAt(order, 'ID'),
    date: textAt(order, 'IssueDate'),
    requiredDate: textAt(delivery, 'RequestedDeliveryPeriod', 'EndDate'),
    currency: textAt(order, 'DocumentCurrencyCode'),
    note: textAt(order, 'Note'),
    buyer: {
      code: textAt(order, 'BuyerCustomerParty', 'SupplierAssignedAccountID') || textAt(buyer, 'PartyIdentification', 'ID'),
      name: textAt(buyer, 'PartyName', 'Name') || textAt(buyer, 'PartyLegalEntity', 'RegistrationName'),
      email: textAt(buyer, 'Contact', 'ElectronicMail'),
    },
    shipTo: addressOf(delivery),
    lines: lines.map((line, index) => ({ ...line, id: line.id === '' ? String(index + 1) : line.id })),
  };
}
