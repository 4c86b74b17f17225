/** Accounts, with what is posted on them by itself, and the reasons to adjust stock. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type AccountsView, type BodyIn } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { sessionFeature } from '../client/session.state';
import { CheckField } from '../ui/check-field';
import { Control } from '../ui/forms';
import { GroupedPipe } from '../ui/format';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { byCode, rowsEntry } from '../ui/rows-entry';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';
import { Done } from './done';
import { undoable } from './undo';

interface AccountRow {
  readonly code: string;
  readonly name: string;
}
interface ReasonRow extends AccountRow {
  readonly account: string;
  readonly noteNeeded: boolean;
  readonly active: boolean;
  readonly version: number | null;
}
type ReasonBody = BodyIn<typeof api.setup.saveReason>;
type Reason = AccountsView['reasons'][number];
type Use = AccountsView['uses'][number];
type UseBody = BodyIn<typeof api.setup.saveAccountUse>;
const rowOf = ({ uses: _, ...row }: Reason): ReasonRow => row;
const reasonBody = ({ version, ...row }: ReasonRow): ReasonBody => ({ ...row, ...(version === null ? {} : { version }) });

@Component({
  imports: [CheckField, Control, Done, GroupedPipe, Labelled, NzButtonModule, Refused, Sheet, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './accounts.page.html',
  styleUrl: './setup.less',
})
export class AccountsPage {
  private readonly client = inject(ApiClient);
  private readonly choices = inject(Choices);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly may = computed(() => this.rights().has('setup.edit'));
  protected readonly view = signal<AccountsView | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly undo = undoable();
  protected readonly accounts = rowsEntry<AccountRow, AccountRow, AccountsView>({
    part: 'accounts',
    ground: () => this.view(),
    rows: (view) =>
      byCode(
        view.accounts,
        ({ code }) => code,
        ({ code, name }) => ({ code, name }),
      ),
    empty: { code: '', name: '' },
    route: api.setup.saveAccount,
    body: (row) => row,
    send: (body) => this.client.call(api.setup.saveAccount, { body }),
    done: (view) => this.take(view),
  });
  protected readonly uses = rowsEntry<Pick<Use, 'use' | 'account'>, UseBody, AccountsView>({
    part: 'account uses',
    ground: () => this.view(),
    rows: (view) =>
      byCode(
        view.uses,
        ({ use }) => use,
        ({ use, account }) => ({ use, account }),
      ),
    empty: { use: 'bank', account: '' },
    route: api.setup.saveAccountUse,
    body: (row) => row,
    send: (body) => this.client.call(api.setup.saveAccountUse, { body }),
    done: (view) => this.take(view),
  });
  protected readonly reasons = rowsEntry<ReasonRow, ReasonBody, AccountsView>({
    part: 'reasons',
    ground: () => this.view(),
    rows: (view) => byCode(view.reasons, ({ code }) => code, rowOf),
    empty: { code: '', name: '', account: '', noteNeeded: false, active: true, version: null },
    route: api.setup.saveReason,
    body: reasonBody,
    send: (body) => this.client.call(api.setup.saveReason, { body }),
    done: (view) => this.take(view),
  });

  constructor() {
    this.client
      .call(api.setup.accounts)
      .subscribe({ next: (view) => this.view.set(view), error: (error: unknown) => this.problem.set(problemOf(error)) });
  }

  /** Says what was done, once it is. */
  private saved: (() => void) | undefined;

  private take(view: AccountsView): void {
    this.view.set(view);
    this.saved?.();
    this.saved = undefined;
    this.choices.refresh();
  }

  protected saveAccount({ code, name }: AccountRow): void {
    this.saved = () =>
      this.undo.did(`Account ${code} was called ${name}.`, () => this.back(this.client.call(api.setup.saveAccount, { body: { code, name } })));
    this.accounts.save(code);
  }

  protected saveUse({ use, title, account }: Use): void {
    this.saved = () =>
      this.undo.did(`${title} were posted on ${account}.`, () => this.back(this.client.call(api.setup.saveAccountUse, { body: { use, account } })));
    this.uses.save(use);
  }

  protected saveReason(before: Reason): void {
    this.saved = () =>
      this.undo.did(`Reason ${before.code} is changed.`, () => {
        const version = this.view()?.reasons.find(({ code }) => code === before.code)?.version ?? before.version;
        this.back(this.client.call(api.setup.saveReason, { body: reasonBody({ ...rowOf(before), version }) }));
      });
    this.reasons.save(before.code);
  }

  private back(call: { subscribe: (observer: { next: (view: AccountsView) => void; error: (error: unknown) => void }) => unknown }): void {
    call.subscribe({ next: (view) => this.take(view), error: (error) => this.problem.set(problemOf(error)) });
  }
}
