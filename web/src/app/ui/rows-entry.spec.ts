import '@angular/compiler';
import { signal } from '@angular/core';
import { TestBed, getTestBed } from '@angular/core/testing';
import { BrowserTestingModule, platformBrowserTesting } from '@angular/platform-browser/testing';
import { Router } from '@angular/router';
import { provideState, provideStore } from '@ngrx/store';
import { of, throwError, type Observable } from 'rxjs';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type BodyIn, type GroundView } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { byCode, rowsEntry, type RowsEntry } from './rows-entry';

type Body = BodyIn<typeof api.catalogue.saveCustomerGroup>;
interface Row {
  readonly code: string;
  readonly name: string;
}

const group = (code: string, name: string) => ({ code, name, customers: 0 });
const groundOf = (...customerGroups: ReturnType<typeof group>[]): GroundView => ({
  units: [],
  calendars: [],
  groups: [],
  accounts: [],
  currencies: [],
  customerGroups,
  taxCodes: [],
  paymentTerms: [],
  fields: [],
});

describe('rows that are saved one by one', () => {
  const ground = signal(groundOf());
  let sent: Body[];
  let answer: () => Observable<GroundView>;
  let groups: RowsEntry<Row>;
  const type = (code: string, name: string): void => {
    groups.enter(code);
    groups.entry.fields.rows[code]?.name().value.set(name);
    TestBed.tick();
  };
  const typed = (code: string): string | undefined => groups.entry.fields.rows[code]?.name().value();

  beforeEach(() => {
    sessionStorage.clear();
    const bed = getTestBed();
    bed.resetTestEnvironment();
    bed.initTestEnvironment(BrowserTestingModule, platformBrowserTesting());
    TestBed.configureTestingModule({
      providers: [provideStore({}), provideState(sessionFeature), { provide: Router, useValue: { url: '/ground' } }],
    });
    sent = [];
    ground.set(groundOf(group('A', 'Farms'), group('B', 'Shops')));
    groups = TestBed.runInInjectionContext(() =>
      rowsEntry<Row, Body, GroundView>({
        part: 'groups',
        ground,
        rows: ({ customerGroups }) =>
          byCode(
            customerGroups,
            (each) => each.code,
            ({ code, name }) => ({ code, name }),
          ),
        empty: { code: '', name: '' },
        route: api.catalogue.saveCustomerGroup,
        body: (row) => row,
        send: (body) => {
          sent.push(body);
          return answer();
        },
        done: (saved) => ground.set(saved),
      }),
    );
    TestBed.tick();
  });

  it('differ as soon as they are typed; saving one leaves what is typed in the others', () => {
    type('A', 'Farm shops');
    type('B', 'Shops and stalls');
    expect([groups.differs('A'), groups.differs('B'), groups.entry.typed()]).toEqual([true, true, true]);
    answer = () => of(groundOf(group('A', 'Farm shops'), group('B', 'Shops'), group('C', 'Schools')));
    groups.save('A');
    TestBed.tick();
    expect(sent).toEqual([{ code: 'A', name: 'Farm shops' }]);
    expect([typed('A'), typed('B'), typed('C')]).toEqual(['Farm shops', 'Shops and stalls', 'Schools']);
    expect([groups.differs('A'), groups.differs('B'), groups.differs('C')]).toEqual([false, true, false]);
  });

  it('are refused at the row that was sent, which stays as typed', () => {
    type('B', 'Shops and stalls');
    answer = () => throwError(() => new Problem('badInput', 'No.', { name: 'Too plain.' }, {}));
    groups.save('B');
    TestBed.tick();
    expect(groups.entry.refused()).toEqual({ 'rows.B.name': 'Too plain.' });
    expect(typed('B')).toBe('Shops and stalls');
  });

  it('are told the contract’s rules of the row in hand once a field is left', () => {
    type('A', '');
    groups.entry.fields.rows['A']?.name().markAsTouched();
    expect(groups.entry.refused()).toEqual({ 'rows.A.name': 'Give a name.' });
  });

  it('get a new one beneath, which is empty again once it was added', () => {
    groups.enter(null);
    groups.entry.fields.fresh.code().value.set('C');
    groups.entry.fields.fresh.name().value.set('Schools');
    answer = () => of(groundOf(group('A', 'Farms'), group('B', 'Shops'), group('C', 'Schools')));
    groups.save(null);
    TestBed.tick();
    expect(sent).toEqual([{ code: 'C', name: 'Schools' }]);
    expect(groups.entry.fields.fresh().value()).toEqual({ code: '', name: '' });
    expect([typed('C'), groups.entry.typed()]).toEqual(['Schools', false]);
  });
});
