import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { asAmount } from '../base';
import { faultsOf, ublOf, type UblInvoice } from './ubl';

const invoice = (change: Partial<UblInvoice> = {}): UblInvoice => ({
  kind: 'invoice',
  number: 'INV-1',
  date: '2027-03-01',
  dueDate: '2027-03-31',
  currency: 'EUR',
  reference: 'Spring',
  orders: ['CO-1'],
  of: '',
  note: '',
  terms: 'within 30 days',
  seller: { name: 'Larkmoor Apiary Works', address: ['Moor Lane 12', 'Larkmoor'], country: 'IE' },
  buyer: { name: 'Hollin & Sons', address: ['Hollin Lane 4', 'Nether Wickden'], country: '' },
  lines: [{ code: 'PAIL', description: 'Pail <large>', quantity: '2', unit: 'each', price: '5.00', amount: asAmount(1000) }],
  net: asAmount(1000),
  tax: asAmount(200),
  taxInBooks: null,
  total: asAmount(1200),
  paid: asAmount(0),
  ...change,
});

describe('an invoice as UBL', () => {
  it('in another currency says its tax in the books’ currency too', () => {
    const xml = ublOf(invoice({ currency: 'GBP', taxInBooks: { currency: 'EUR', tax: asAmount(234) } }));
    expect(xml).toContain('<cbc:DocumentCurrencyCode>GBP</cbc:DocumentCurrencyCode><cbc:TaxCurrencyCode>EUR</cbc:TaxCurrencyCode>');
    expect(xml).toContain('<cac:TaxTotal><cbc:TaxAmount currencyID="EUR">2.34</cbc:TaxAmount></cac:TaxTotal><cac:LegalMonetaryTotal>');
    expect(xml.match(/currencyID="GBP">12\.00</g)).toHaveLength(2);
  });

  it('has its parts in the order of the schema, with codes and figures', () => {
    const xml = ublOf(invoice({ paid: asAmount(500) }));
    const order = ['CustomizationID', 'ID', 'IssueDate', 'DueDate', 'InvoiceTypeCode', 'DocumentCurrencyCode', 'BuyerReference', 'OrderReference'];
    const places = [
      ...order,
      'AccountingSupplierParty',
      'AccountingCustomerParty',
      'PaymentTerms',
      'TaxTotal',
      'LegalMonetaryTotal',
      'InvoiceLine',
    ].map((name) => xml.search(new RegExp(`<c[ab]c:${name}[ >]`)));
    expect(places.every((place, at) => place > (places[at - 1] ?? 0))).toBe(true);
    expect(xml).toContain('<cbc:InvoicedQuantity unitCode="C62">2</cbc:InvoicedQuantity>');
    expect(xml).toContain('<cbc:Percent>20.00</cbc:Percent>');
    expect(xml).toContain('<cbc:PrepaidAmount currencyID="EUR">5.00</cbc:PrepaidAmount><cbc:PayableAmount currencyID="EUR">7.00</cbc:PayableAmount>');
    expect(xml).toContain('Hollin &amp; Sons');
    expect(xml).toContain('Pail &lt;large&gt;');
  });

  it('that gives back is a credit note with figures above 0', () => {
    const xml = ublOf(
      invoice({
        kind: 'credit',
        of: 'INV-1',
        net: asAmount(-1000),
        tax: asAmount(-200),
        total: asAmount(-1200),
        lines: [{ code: 'PAIL', description: 'Pail', quantity: '-2', unit: 'kg', price: '5.00', amount: asAmount(-1000) }],
      }),
    );
    expect(xml).toContain('<cbc:CreditNoteTypeCode>381</cbc:CreditNoteTypeCode>');
    expect(xml).toContain('<cbc:CreditedQuantity unitCode="KGM">2</cbc:CreditedQuantity>');
    expect(xml).toContain('<cac:BillingReference><cac:InvoiceDocumentReference><cbc:ID>INV-1</cbc:ID>');
    expect(xml).not.toMatch(/>-\d/);
  });

  it('is found wanting where something must be there, or does not add up', () => {
    const rules = (change: Partial<UblInvoice>) => faultsOf(invoice(change)).map(({ rule }) => rule);
    expect(rules({})).toEqual([]);
    expect(rules({ number: '', currency: 'Euro', lines: [] })).toEqual(['BR-02', 'BR-05', 'BR-16', 'BR-CO-10']);
    expect(rules({ net: asAmount(999) })).toEqual(['BR-CO-10', 'BR-CO-15']);
    expect(rules({ seller: { name: '', address: [], country: '' } })).toEqual(['BR-06', 'BR-09']);
  });

  it('is well-formed whatever stands in its texts', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (text) => {
        const xml = ublOf(invoice({ note: text, reference: text }));
        expect(xml).not.toMatch(/[\u0000-\u0008\u000b-\u001f]/);
        expect(xml.replaceAll(/&(amp|lt|gt|quot|apos);/g, '').includes('&')).toBe(false);
        expect(xml.match(/</g)?.length).toBe(xml.match(/>/g)?.length);
      }),
    );
  });
});
