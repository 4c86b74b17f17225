import '@angular/compiler';
import { TestBed } from '@angular/core/testing';
import { from } from 'rxjs';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type PeopleView, type RoleView } from '@terrace/contract';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { RolesPage } from './roles.page';

const role = (id: number, name: string, more: Partial<RoleView> = {}): RoleView => ({
  id,
  name,
  everything: false,
  rights: ['stores.see'],
  notices: [],
  people: 2,
  version: 4,
  ...more,
});

describe('the page of roles', () => {
  let client: FakeClient;
  const view = (...roles: RoleView[]): PeopleView => ({ people: [], roles });
  beforeEach(() => {
    client = new FakeClient();
    client.answer(api.setup.people, () =>
      from(Promise.resolve(view(role(1, 'Administrator', { everything: true }), role(2, 'Packer'), role(3, 'Nobody’s', { people: 0 })))),
    );
    client.answer(api.setup.weighRole, () => ({ people: [{ name: 'Bryn', gained: ['stores.adjust'], lost: [] }] }));
    client.answer(api.setup.saveRole, () => view(role(2, 'Packer', { version: 5 })));
  });
  async function opened(id: number, rights: Parameters<typeof screenWith>[2] = ['setup.see', 'setup.people']): Promise<HTMLElement> {
    const { screen, page } = screenWith(RolesPage, client, rights);
    // The answer comes when the page stands.
    await Promise.resolve();
    TestBed.tick();
    await (screen as unknown as { choose: (id: number) => Promise<void> }).choose(id);
    TestBed.tick();
    // What is ticked is shown a moment later.
    await Promise.resolve();
    TestBed.tick();
    return page;
  }
  const button = (page: HTMLElement, words: string): HTMLButtonElement | undefined =>
    [...page.querySelectorAll('button')].find((each) => each.textContent.trim().startsWith(words));
  const first = (page: HTMLElement): HTMLInputElement => {
    const free = page.querySelector<HTMLInputElement>('.rights .ant-checkbox:not(.ant-checkbox-checked) input');
    if (!free) throw new Error('every right is given');
    return free;
  };

  it('ticks what a role may, and lets who may not change it look only', async () => {
    const page = await opened(2, ['setup.see']);
    expect(page.querySelectorAll('.rights .ant-checkbox-checked')).toHaveLength(1);
    expect(first(page).disabled).toBe(true);
    expect(button(page, 'Save')).toBeUndefined();
  });

  it('says whom a change gives and takes what before it is saved, and saves with the version that was seen', async () => {
    const page = await opened(2);
    first(page).click();
    TestBed.tick();
    button(page, 'Save')?.click();
    TestBed.tick();
    expect(page.textContent).toContain('Change what a person may do?');
    expect(page.textContent).toContain('Bryn');
    expect(client.asked.some(({ path }) => path === api.setup.saveRole.path)).toBe(false);
    button(page, 'Change it')?.click();
    TestBed.tick();
    const saved = client.asked.find(({ path, call }) => path === api.setup.saveRole.path && call.body !== undefined)?.call.body;
    expect(saved).toMatchObject({ id: 2, version: 4, name: 'Packer' });
    expect((saved as { rights: string[] }).rights).toHaveLength(2);
    expect(page.textContent).not.toContain('Change what a person may do?');
  });

  it('can’t take anything from the role that has everything, and drops only what nobody has', async () => {
    let page = await opened(1);
    expect(page.textContent).toContain('This role has every right');
    expect([...page.querySelectorAll<HTMLInputElement>('.rights fieldset:first-child input')].every(({ disabled }) => disabled)).toBe(true);
    expect(button(page, 'Drop the role')).toBeUndefined();
    page = await opened(2);
    expect(button(page, 'Drop the role')).toBeUndefined();
    page = await opened(3);
    expect(button(page, 'Drop the role')).toBeDefined();
  });
});
