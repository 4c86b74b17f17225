/** People: who may come in, as what and where; the chosen one beside. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, rightsByWarehouse, type AnswerOf, type PeopleView, type Person, type RoleView } from '@terrace/contract';
import { habitNames, habits } from '@terrace/core';
import { ApiClient } from '../client/api-client';
import { Choices } from '../client/choices';
import { Beside } from '../ui/beside';
import { CheckField } from '../ui/check-field';
import { MomentPipe } from '../ui/format';
import { Control, Leaving, disabled, entryOf } from '../ui/forms';
import { Grid } from '../ui/grid';
import type { GridColumn } from '../ui/grid-cells';
import { Labelled } from '../ui/labelled';
import { Note } from '../ui/note';
import { Refused } from '../ui/refusal';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import { peopleDesk } from './people-desk';
import { bodyOf, draftOf, withRole, withWarehouse } from './person-draft';

const NEW = -1;
const NO_BADGE = { badge: '', pin: '' };
type Link = AnswerOf<typeof api.setup.linkForPerson>;

@Component({
  imports: [Beside, CheckField, Control, Grid, Labelled, MomentPipe, Note, NzButtonModule, Refused, SelectField, SelectOption, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './people.page.html',
  styleUrl: './setup.less',
})
export class PeoplePage {
  private readonly client = inject(ApiClient);
  private readonly leaving = inject(Leaving);
  protected readonly choices = inject(Choices);
  private readonly desk = peopleDesk(() => {
    if (this.chosen() !== 0) this.entry.onto(this.fresh());
  });
  protected readonly may = this.desk.may;
  protected readonly view = this.desk.view;
  protected readonly problem = this.desk.problem;
  protected readonly NEW = NEW;
  protected readonly chosen = signal(0);
  /** A link that was made just now, for whom: it is shown this once. */
  protected readonly link = signal<(Link & { readonly name: string }) | null>(null);
  protected readonly person = computed(() => this.view()?.people.find(({ id }) => id === this.chosen()) ?? null);
  protected readonly rows = computed(() =>
    (this.view()?.people ?? []).map(({ roles, joined, ...each }) => ({
      ...each,
      roles: roles.map(({ name, warehouses }) => (warehouses === null ? name : `${name} (${this.codesOf(warehouses)})`)).join(', '),
      state: each.active ? (joined ? 'may come in' : 'no password yet') : 'deactivated',
    })),
  );
  protected readonly columns: readonly GridColumn[] = [
    { field: 'name', title: 'Name', kind: 'text' },
    { field: 'login', title: 'Signs in as', kind: 'code', width: 110 },
    { field: 'roles', title: 'Roles', kind: 'text' },
    { field: 'state', title: 'Now', kind: 'text', width: 130 },
    { field: 'sessions', title: 'Sessions', kind: 'count', width: 80, spare: 1 },
  ];
  private readonly draft = signal(draftOf([]));
  protected readonly entry = entryOf({
    part: () => `person ${this.chosen()}`,
    draft: this.draft,
    route: () => (this.chosen() === 0 || !this.may() ? null : api.setup.addPerson),
    body: bodyOf,
    shape: (path) => disabled(path, () => !this.may()),
    place: (place) => (place.startsWith('roles') ? '' : place === 'warehouseId' ? 'warehouse' : place),
  });
  protected readonly habits = habitNames.map((name) => ({ name, shown: habits[name].shown }));
  private readonly shownBadge = signal(NO_BADGE);
  protected readonly badge = entryOf({
    part: () => `badge of ${this.chosen()}`,
    draft: this.shownBadge,
    route: () => (this.shownBadge().badge === '' ? null : api.setup.giveBadge),
    keeps: false,
  });

  private fresh(): ReturnType<typeof draftOf> {
    const { people, roles } = this.view() ?? { people: [], roles: [] };
    return draftOf(
      roles.map(({ id }) => id),
      people.find(({ id }) => id === this.chosen()),
    );
  }

  protected async choose(id: number): Promise<void> {
    if (id === this.chosen() || !(await this.leaving.ask())) return;
    this.chosen.set(id);
    this.link.set(null);
    this.entry.begin(this.fresh());
    this.badge.begin(NO_BADGE);
  }

  /** Whether they have no role at all. */
  protected readonly none = computed(() => Object.values(this.draft().roles).every(({ has }) => !has));

  protected has(role: RoleView): boolean {
    return this.draft().roles[role.id]?.has === true;
  }

  /** Whether it matters where a role holds: some of its rights can be given for some warehouses only. */
  protected hasPlaces(role: RoleView): boolean {
    return (
      this.has(role) && !role.everything && this.choices.all().warehouses.length > 1 && role.rights.some((right) => rightsByWarehouse.has(right))
    );
  }

  protected isIn(role: RoleView, warehouseId: number): boolean {
    return this.draft().roles[role.id]?.only.includes(warehouseId) === true;
  }

  protected give(role: RoleView, has: boolean): void {
    this.draft.update((draft) => withRole(draft, role.id, has));
  }

  protected place(role: RoleView, warehouseId: number, there: boolean): void {
    this.draft.update((draft) => withWarehouse(draft, role.id, warehouseId, there));
  }

  protected turn(active: boolean): void {
    this.draft.update((draft) => ({ ...draft, active }));
  }

  protected save(): void {
    const body = bodyOf(this.draft());
    const person = this.person();
    if (!person) {
      this.entry.send(this.client.call(api.setup.addPerson, { body }), ({ view, id, link }) => {
        this.view.set(view);
        this.chosen.set(id);
        this.link.set({ ...link, name: body.name });
        this.entry.begin(this.fresh());
      });
      return;
    }
    const call = this.client.call(api.setup.changePerson, {
      params: { id: person.id },
      body: { ...body, active: this.draft().active, version: person.version },
    });
    this.entry.send(call, (view) => this.take(view));
  }

  private take(view: PeopleView): void {
    this.view.set(view);
    this.entry.begin(this.fresh());
  }

  protected badgeWords({ name, badge, pinSpent }: Person): string {
    if (pinSpent) return `Too many wrong PINs were typed with the badge: give ${name} a new one.`;
    return badge ? `${name} has a badge and a PIN for terminals.` : `Without one ${name} signs in by name and password alone.`;
  }

  protected giveBadge(): void {
    this.sendBadge(this.shownBadge());
  }

  protected takeBadge(): void {
    this.sendBadge(NO_BADGE);
  }

  private sendBadge(body: typeof NO_BADGE): void {
    const person = this.person();
    if (!person) return;
    this.badge.send(this.client.call(api.setup.giveBadge, { params: { id: person.id }, body }), (view) => {
      this.view.set(view);
      this.badge.begin(NO_BADGE);
      // Nobody has left the fields of the next one.
      this.badge.fields().reset();
    });
  }

  protected makeLink(): void {
    const person = this.person();
    if (!person) return;
    this.entry.send(
      this.client.call(api.setup.linkForPerson, { params: { id: person.id } }),
      (link) => this.link.set({ ...link, name: person.name }),
      'part',
    );
  }

  protected endSessions(): void {
    const person = this.person();
    if (person) this.entry.send(this.client.call(api.setup.endSessionsOf, { params: { id: person.id } }), (view) => this.view.set(view), 'part');
  }

  /** The link as it is handed over, at this address. */
  protected wholeLink(path: string): string {
    return `${location.origin}${path}`;
  }

  protected copy(path: string): void {
    void navigator.clipboard.writeText(this.wholeLink(path));
  }

  private codesOf(warehouses: readonly number[]): string {
    const codes = new Map(this.choices.all().warehouses.map((each) => [each.id, each.code]));
    return warehouses.map((id) => codes.get(id) ?? '').join(', ');
  }
}
