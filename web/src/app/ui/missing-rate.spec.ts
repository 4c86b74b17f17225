import '@angular/compiler';
import { describe, expect, it } from 'vitest';
import { throwError } from 'rxjs';
import { api } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { MissingRate, rateMissing } from './missing-rate';

interface Inside {
  readonly rate: { (): string; set: (rate: string) => void };
  readonly set: () => string;
  readonly refused: () => string;
  readonly busy: () => boolean;
  readonly save: (event: Event) => void;
}
const missing = { currency: 'GBP', day: '2027-03-01' };

describe('a rate that is missed', () => {
  it('is told from what else may be refused', () => {
    expect(rateMissing(new Problem('noRate', 'None.', {}, { ...missing }))).toEqual(missing);
    expect(rateMissing(new Problem('noRate', 'None.', {}, {}))).toBeNull();
    expect(rateMissing(new Problem('badDate', 'No.', {}, { ...missing }))).toBeNull();
    expect(rateMissing(null)).toBeNull();
  });

  it('is set where it is missed, from the day on which it is, and says so', () => {
    const client = new FakeClient();
    client.answer(api.catalogue.saveCurrency, () => ({}));
    const shown = screenWith(MissingRate, client, ['catalogue.edit'], { missing }).screen as unknown as Inside;
    shown.rate.set('1.17');
    shown.save(new Event('submit'));
    expect(client.asked.at(-1)?.call).toEqual({ body: { code: 'GBP', date: '2027-03-01', rate: '1.17' } });
    expect(shown.set()).toBe('1 GBP is worth 1.17 CHF from 2027-03-01 on: do it again.');
  });

  it('that is none is refused at the field, and can be typed again', () => {
    const client = new FakeClient();
    client.answer(api.catalogue.saveCurrency, () => throwError(() => new Problem('notPositive', '0 is no rate.', {}, {})));
    const shown = screenWith(MissingRate, client, ['catalogue.edit'], { missing }).screen as unknown as Inside;
    shown.rate.set('0');
    shown.save(new Event('submit'));
    expect([shown.refused(), shown.set(), shown.busy(), shown.rate()]).toEqual(['0 is no rate.', '', false, '0']);
  });
});
