/**
 * Invoices and credit notes as UBL 2.1 (OASIS, ISO/IEC 19845), with the parts, code lists and arithmetic that EN 16931 asks of
 * an invoice, as far as Terrace has them: written from figures that add up, and refused where they don't.
 */
import { asAmount, readDecimal, toScale, unitCodeOf, writeAmount, type Amount } from '../base';

export interface UblParty {
  readonly name: string;
  /** Lines of the address; the last one the town. */
  readonly address: readonly string[];
  /** ISO 3166-1, two letters; empty where nobody said it. */
  readonly country: string;
}

export interface UblLine {
  readonly code: string;
  readonly description: string;
  /** In the unit, above 0. */
  readonly quantity: string;
  readonly unit: string;
  /** For one, without tax, before the discount. */
  readonly price: string;
  /** What is charged of it, without tax. */
  readonly amount: Amount;
}

export interface UblInvoice {
  readonly kind: 'invoice' | 'credit';
  readonly number: string;
  readonly date: string;
  readonly dueDate: string;
  /** ISO 4217. */
  readonly currency: string;
  /** The buyer's reference, and the invoice that a credit note gives back; empty for none. */
  readonly reference: string;
  readonly orders: readonly string[];
  readonly of: string;
  readonly note: string;
  readonly terms: string;
  readonly seller: UblParty;
  readonly buyer: UblParty;
  readonly lines: readonly UblLine[];
  readonly net: Amount;
  readonly tax: Amount;
  /** The tax in the currency of the seller's books, where that is another one. */
  readonly taxInBooks: { readonly currency: string; readonly tax: Amount } | null;
  readonly total: Amount;
  /** Paid before, and closed by credit notes. */
  readonly paid: Amount;
}

/** What of an invoice breaks the rules: a name of the rule and what is wrong. */
export interface UblFault {
  readonly rule: string;
  readonly words: string;
}

const COUNTRY = /^[A-Z]{2}$/;
const CURRENCY = /^[A-Z]{3}$/;
const DAY = /^\d{4}-\d{2}-\d{2}$/;
const sum = (amounts: readonly Amount[]): Amount => asAmount(amounts.reduce((all: number, each) => all + each, 0));

/**
 * What of an invoice breaks the rules that can be held here: what must be there (BR-01 to BR-27), its code lists, and the
 * arithmetic (BR-CO-10, -13, -15, -16; BR-S-08).
 *
 * @example faultsOf({ …, net: 100, lines: [{ …, amount: 99 }] })[0].rule // 'BR-CO-10'
 */
export function faultsOf(invoice: UblInvoice): UblFault[] {
  const { number, date, currency, seller, buyer, lines, net, tax, total } = invoice;
  const faults: UblFault[] = [];
  const must = (holds: boolean, rule: string, words: string): void => {
    if (!holds) faults.push({ rule, words });
  };
  must(number !== '', 'BR-02', 'It has no number.');
  must(DAY.test(date), 'BR-03', 'Its day is no day.');
  must(CURRENCY.test(currency), 'BR-05', `${currency} is no currency code.`);
  must(seller.name !== '', 'BR-06', 'The seller has no name.');
  must(buyer.name !== '', 'BR-07', 'The buyer has no name.');
  must(COUNTRY.test(seller.country), 'BR-09', 'The country of the company is not known: say it in Set-up.');
  must(lines.length > 0, 'BR-16', 'It has no line.');
  for (const [index, line] of lines.entries()) {
    must(line.description !== '', 'BR-25', `Line ${index + 1} has no name.`);
    must(isFigure(line.quantity), 'BR-22', `Line ${index + 1} has no quantity.`);
    must(!line.price.startsWith('-'), 'BR-27', `The price of line ${index + 1} is below 0.`);
  }
  must(sum(lines.map(({ amount }) => amount)) === net, 'BR-CO-10', 'The lines don’t come to the net.');
  must(net + tax === total, 'BR-CO-15', 'Net and tax don’t come to the total.');
  return faults;
}

function isFigure(text: string): boolean {
  const decimal = readDecimal(text);
  return decimal !== null && toScale(decimal, 12) !== null;
}

const NAMESPACES = 'urn:oasis:names:specification:ubl:schema:xsd:';
const ESCAPES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&apos;' };
/** A text as XML takes it: signs escaped, those that no XML may have left out. */
const escaped = (text: string): string =>
  [...text]
    .filter((sign) => sign >= ' ' || sign === '\n' || sign === '\t')
    .join('')
    .replaceAll(/[&<>"']/g, (sign) => ESCAPES[sign] ?? sign);

type Part = string | readonly Part[] | null;
const flat = (part: Part): string => (part === null ? '' : typeof part === 'string' ? part : part.map(flat).join(''));
/** An element of basic content; none where it has no text. */
function basic(name: string, text: string, attributes = ''): Part {
  return text === '' ? null : `<cbc:${name}${attributes}>${escaped(text)}</cbc:${name}>`;
}
/** An element of others; none where it has none. */
function group(name: string, ...parts: readonly Part[]): Part {
  const inside = flat(parts);
  return inside === '' ? null : `<cac:${name}>${inside}</cac:${name}>`;
}

/** The tax rate that an amount of tax says, in percent with two decimals. */
function percentOf(net: Amount, tax: Amount): string {
  return net === 0 ? '0' : (Math.round((tax * 10_000) / net) / 100).toFixed(2);
}

/**
 * An invoice or credit note as a UBL document; a credit note's figures are written above 0, as UBL wants them.
 *
 * @param invoice amounts in minor units; of a credit note below 0
 */
export function ublOf(invoice: UblInvoice): string {
  const back = invoice.kind === 'credit';
  const sign = back ? -1 : 1;
  const currency = ` currencyID="${escaped(invoice.currency)}"`;
  const money = (name: string, amount: number): Part => basic(name, writeAmount(amount * sign), currency);
  const rate = percentOf(invoice.net, invoice.tax);
  const category = (name: string): Part =>
    group(name, basic('ID', invoice.tax === 0 ? 'Z' : 'S'), basic('Percent', rate), group('TaxScheme', basic('ID', 'VAT')));
  const party = ({ name, address, country }: UblParty): Part =>
    group(
      'Party',
      group('PartyName', basic('Name', name)),
      group(
        'PostalAddress',
        basic('StreetName', address.slice(0, -1).join(', ')),
        basic('CityName', address.at(-1) ?? ''),
        group('Country', basic('IdentificationCode', country)),
      ),
      group('PartyLegalEntity', basic('RegistrationName', name)),
    );
  const root = back ? 'CreditNote' : 'Invoice';
  const line = ({ code, description, quantity, unit, price, amount }: UblLine, index: number): Part =>
    group(
      `${root}Line`,
      basic('ID', String(index + 1)),
      basic(back ? 'CreditedQuantity' : 'InvoicedQuantity', quantity.replace('-', ''), ` unitCode="${unitCodeOf(unit)}"`),
      money('LineExtensionAmount', amount),
      group('Item', basic('Name', description), group('SellersItemIdentification', basic('ID', code)), category('ClassifiedTaxCategory')),
      group('Price', basic('PriceAmount', price, currency)),
    );
  const parts: Part = [
    basic('CustomizationID', 'urn:cen.eu:en16931:2017'),
    basic('ID', invoice.number),
    basic('IssueDate', invoice.date),
    back ? null : basic('DueDate', invoice.dueDate),
    basic(back ? 'CreditNoteTypeCode' : 'InvoiceTypeCode', back ? '381' : '380'),
    basic('Note', invoice.note),
    basic('DocumentCurrencyCode', invoice.currency),
    basic('TaxCurrencyCode', invoice.taxInBooks?.currency ?? ''),
    basic('BuyerReference', invoice.reference),
    group('OrderReference', basic('ID', invoice.orders.join(', '))),
    invoice.of === '' ? null : group('BillingReference', group('InvoiceDocumentReference', basic('ID', invoice.of))),
    group('AccountingSupplierParty', party(invoice.seller)),
    group('AccountingCustomerParty', party(invoice.buyer)),
    group('PaymentTerms', basic('Note', invoice.terms)),
    group(
      'TaxTotal',
      money('TaxAmount', invoice.tax),
      group('TaxSubtotal', money('TaxableAmount', invoice.net), money('TaxAmount', invoice.tax), category('TaxCategory')),
    ),
    invoice.taxInBooks &&
      group('TaxTotal', basic('TaxAmount', writeAmount(invoice.taxInBooks.tax * sign), ` currencyID="${escaped(invoice.taxInBooks.currency)}"`)),
    group(
      'LegalMonetaryTotal',
      money('LineExtensionAmount', invoice.net),
      money('TaxExclusiveAmount', invoice.net),
      money('TaxInclusiveAmount', invoice.total),
      invoice.paid === 0 ? null : money('PrepaidAmount', invoice.paid),
      money('PayableAmount', invoice.total - invoice.paid),
    ),
    ...invoice.lines.map(line),
  ];
  return (
    `<?xml version="1.0" encoding="UTF-8"?>\n<${root} xmlns="${NAMESPACES}${root}-2" xmlns:cac="${NAMESPACES}CommonAggregateComponents-2"` +
    ` xmlns:cbc="${NAMESPACES}CommonBasicComponents-2">${flat(parts)}</${root}>\n`
  );
}
