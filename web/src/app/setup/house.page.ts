/** The company: what it is called and where it is, and how its papers look. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type House } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { FileField } from '../ui/file-field';
import { Control, disabled, entryOf, overRecord } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextArea, TextField } from '../ui/text-field';
import { Done } from './done';
import { undoable } from './undo';

const NONE = { company: '', address: '', foot: '', currency: '', timeZone: '' };
type Draft = typeof NONE;
const draftOf = ({ company, address, foot, currency, timeZone }: House): Draft => ({ company, address, foot, currency, timeZone });

@Component({
  imports: [Control, Done, FileField, Labelled, NzButtonModule, Refused, SelectField, SelectOption, TextArea, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Company and letterhead</h1>
      <t-done [undo]="undo" />
      <section class="pane">
        <form (submit)="$event.preventDefault(); save()">
          <t-field name="Name of the company"><t-text [formField]="entry.fields.company" /></t-field>
          <t-field name="Address, as on papers"><t-area [rows]="3" [formField]="entry.fields.address" /></t-field>
          <t-field name="At the foot of every page" hint="Such as bank and register"><t-text [formField]="entry.fields.foot" /></t-field>
          <div class="fields">
            <t-field name="Currency of the books" [hint]="house()?.currencyStays ?? ''"
              ><t-text kind="code" [formField]="entry.fields.currency"
            /></t-field>
            <t-field name="Time zone" hint="Says when a day begins">
              <t-select label="Time zone" [formField]="entry.fields.timeZone">
                @for (each of zones; track each) {
                  <t-option [value]="each" [label]="each" />
                }
              </t-select>
            </t-field>
          </div>
          <t-refusal [problem]="entry.problem()" />
          @if (may()) {
            <div class="acts"><button nz-button class="act first" [disabled]="entry.busy()">Save</button></div>
          }
        </form>
      </section>
      <section class="pane">
        <h2>Picture on papers</h2>
        @if (house()?.logo) {
          <img [src]="'/api/setup/logo?' + house()?.version" alt="The picture at the head of papers" />
        } @else {
          <p class="quiet">None: papers have the stepped line of Terrace.</p>
        }
        <t-refusal [problem]="problem()" />
        @if (may()) {
          <div class="acts">
            <t-file words="Choose a PNG or JPEG picture" accept=".png,.jpg,.jpeg" (chosen)="send($event)" />
            @if (house()?.logo) {
              <button nz-button type="button" class="act small" (click)="drop()">Without a picture</button>
            }
          </div>
        }
      </section>
    </div>
  `,
  styleUrl: './setup.less',
  styles: 'form { max-width: 560px; } img { max-width: 260px; max-height: 110px; background: #fff; padding: 6px; border: 1px solid var(--line); }',
})
export class HousePage {
  private readonly client = inject(ApiClient);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly may = computed(() => this.rights().has('setup.edit'));
  protected readonly house = signal<House | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly zones = ['UTC', ...Intl.supportedValuesOf('timeZone').filter((zone) => zone !== 'UTC')];
  protected readonly undo = undoable();
  private readonly draft = signal(NONE);
  protected readonly entry = entryOf({
    draft: this.draft,
    route: () => (this.house() ? api.setup.saveHouse : null),
    body: (draft) => ({ ...draft, version: this.house()?.version ?? 0 }),
    shape: (path) => disabled(path, () => !this.may()),
  });

  constructor() {
    overRecord(
      this.entry,
      computed(() => {
        const house = this.house();
        return house && { ...house, id: 1 };
      }),
      draftOf,
    );
    this.client
      .call(api.setup.house)
      .subscribe({ next: (house) => this.house.set(house), error: (error: unknown) => this.problem.set(problemOf(error)) });
  }

  protected save(): void {
    const before = this.house();
    if (before) this.keep(this.draft(), before, () => this.keep(draftOf(before), this.house() ?? before));
  }

  private keep(draft: Draft, { version }: House, back?: () => void): void {
    this.entry.send(this.client.call(api.setup.saveHouse, { body: { ...draft, version } }), (house) => {
      this.house.set(house);
      this.undo.did(back ? 'Kept.' : 'As it was before.', back);
    });
  }

  protected send(file: File): void {
    this.problem.set(null);
    this.client.send<House>('/setup/logo', file).subscribe({
      next: (house) => this.house.set(house),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected drop(): void {
    this.client
      .call(api.setup.dropLogo)
      .subscribe({ next: (house) => this.house.set(house), error: (error: unknown) => this.problem.set(problemOf(error)) });
  }
}
