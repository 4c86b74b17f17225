import '@angular/compiler';
import { Router } from '@angular/router';
import { beforeEach, describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import '../documents';
import { FakeClient, storeWith } from '../testing/fake-client';
import { Problem } from '../client/api-client';
import { DocumentOpener } from './open-document';

const hit = (kind: string, id: number, title: string): object => ({ kind, id, title, detail: '' });

describe('opening a document by its number', () => {
  let client: FakeClient;
  let opener: DocumentOpener;
  let visited: string[];
  beforeEach(() => {
    client = new FakeClient();
    visited = [];
    opener = storeWith(DocumentOpener, client, [{ provide: Router, useValue: { navigateByUrl: (page: string) => visited.push(page) } }]);
  });

  it('leads to its page, from the number of a line, too, and never to another that only begins so', () => {
    client.answer(api.platform.find, () => [hit('purchaseOrder', 27, 'PO-10270'), hit('purchaseOrder', 7, 'PO-1027')]);
    opener.open('PO-1027/2');
    expect(client.asked[0]?.call.query).toEqual({ text: 'PO-1027' });
    expect(visited).toEqual(['/buying/orders/7']);
  });

  it('says so where there is none, and where the answer is lost', () => {
    client.answer(api.platform.find, () => []);
    opener.open('CO-9999/1');
    expect(client.told.map((each) => each.message)).toEqual(['CO-9999 can’t be opened: it is not there, or you may not see it.']);
    client.refuse(api.platform.find, new Problem('noAnswer', 'Terrace does not answer.', {}, {}));
    opener.open('CO-9999/1');
    expect(client.told).toHaveLength(1);
    expect(visited).toEqual([]);
  });
});
