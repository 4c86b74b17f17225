/** Reads orders from a CSV file: a row a line, rows of one order and customer together. */
import { parse } from 'csv-parse/sync';
import { Refusal, type IncomingLine, type IncomingOrder } from '@terrace/core';

/** What columns may be called, in small letters. */
const COLUMNS = {
  order: ['order', 'order number', 'number', 'reference'],
  customer: ['customer', 'customer code', 'buyer'],
  name: ['customer name', 'name'],
  wanted: ['wanted', 'wanted on', 'required', 'required date', 'date'],
  item: ['item', 'item code', 'code'],
  theirs: ['their item', 'their code', 'customer item'],
  barcode: ['barcode', 'gtin'],
  description: ['description'],
  quantity: ['quantity', 'qty'],
  unit: ['unit'],
  price: ['price'],
  shipTo: ['ship to', 'address'],
  note: ['note'],
} as const;
type ColumnName = keyof typeof COLUMNS;
const NEEDED: readonly ColumnName[] = ['order', 'customer', 'quantity'];
const MOST_ROWS = 2000;
const SEPARATORS = [';', ',', '\t'];

type Row = Readonly<Record<ColumnName, string>>;

function rowsOf(text: string): Row[] {
  const first = text.split('\n', 1)[0] ?? '';
  const delimiter = [...SEPARATORS].sort((a, b) => first.split(b).length - first.split(a).length)[0] ?? ',';
  let cells: string[][];
  try {
    cells = parse(text, { delimiter, bom: true, relax_column_count: true, skip_empty_lines: true, trim: true });
  } catch (error) {
    throw new Refusal('notCsv', `This is no CSV file: ${error instanceof Error ? error.message : String(error)}`, { field: 'text' });
  }
  const [head = [], ...body] = cells;
  const places = Object.fromEntries(
    Object.entries(COLUMNS).map(([name, words]) => [name, head.findIndex((title) => (words as readonly string[]).includes(title.toLowerCase()))]),
  ) as Record<ColumnName, number>;
  const missing = NEEDED.filter((name) => places[name] < 0);
  if (missing.length > 0 || (places.item < 0 && places.theirs < 0 && places.barcode < 0))
    throw new Refusal('notAnOrder', `The first row must name the columns: order, customer, quantity, and item, their item or barcode.`, {
      field: 'text',
    });
  if (body.length > MOST_ROWS)
    throw new Refusal('tooLarge', `It has ${body.length} rows: at most ${MOST_ROWS} are taken at once.`, { field: 'text' });
  return body.map((row) => Object.fromEntries(Object.entries(places).map(([name, place]) => [name, (row[place] ?? '').trim()])) as unknown as Row);
}

/** Reads orders. Refuses `notCsv`, `notAnOrder`, and a row without order or customer. */
export function readCsvOrders(text: string): IncomingOrder[] {
  const orders = new Map<string, { readonly head: Row; readonly lines: IncomingLine[] }>();
  for (const [index, row] of rowsOf(text).entries()) {
    if (row.order === '' || row.customer + row.name === '')
      throw new Refusal('notAnOrder', `Row ${index + 2} names no order or no customer: nothing of the file was taken.`, { field: 'text' });
    const key = `${row.customer}\n${row.name}\n${row.order}`;
    const found = orders.get(key) ?? { head: row, lines: [] };
    found.lines.push({
      id: String(found.lines.length + 1),
      theirCode: row.theirs,
      ourCode: row.item,
      barcode: row.barcode,
      description: row.description,
      quantity: row.quantity,
      unit: row.unit,
      price: row.price,
      requiredDate: row.wanted === found.head.wanted ? '' : row.wanted,
      note: row.note,
    });
    orders.set(key, found);
  }
  if (orders.size === 0) throw new Refusal('notAnOrder', 'There is no line in it: there is nothing to order.', { field: 'text' });
  return [...orders.values()].map(({ head, lines }) => ({
    number: head.order,
    date: '',
    requiredDate: head.wanted,
    currency: '',
    note: '',
    buyer: { code: head.customer, name: head.name, email: '' },
    shipTo: head.shipTo,
    lines,
  }));
}
