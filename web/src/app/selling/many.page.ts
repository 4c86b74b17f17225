/** The same with many orders: what would become of each, then it is done; and what was done before. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type OrderPreview, type OrderRun } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { Choices } from '../client/choices';
import { whenHeard } from '../client/heard';
import { sessionFeature } from '../client/session.state';
import { DateField } from '../ui/fields';
import { GroupedPipe, MomentPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { SelectField, SelectOption } from '../ui/select-field';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';
import { ChosenOrders } from './chosen-orders';
import { ACTS, NO_DRAFT, actOf } from './many-draft';
import { runWords } from './run-words';

/** Rows of a preview that are shown; those that can't be come first. */
const SHOWN = 300;

@Component({
  imports: [Control, DateField, GroupedPipe, Labelled, MomentPipe, NzButtonModule, Refused, RouterLink, SelectField, SelectOption, Sheet, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      @if (ids().length > 0) {
        <h1>With {{ ids().length | grouped }} chosen {{ ids().length === 1 ? 'order' : 'orders' }}</h1>
        <form (submit)="$event.preventDefault(); look()">
          <t-field name="What is done">
            <t-select label="What is done" [formField]="entry.fields.act" (valueChange)="turned()">
              @for (each of acts(); track each.act) {
                <t-option [value]="each.act" [label]="each.words" />
              }
            </t-select>
          </t-field>
          @switch (draft().act) {
            @case ('hold') {
              <t-field name="Why"><t-text [formField]="entry.fields.reason" (valueChange)="turned()" /></t-field>
            }
            @case ('redate') {
              <t-field name="Wanted on"><t-date label="Wanted on" [formField]="entry.fields.date" (valueChange)="turned()" /></t-field>
            }
            @case ('move') {
              <t-field name="From warehouse">
                <t-select as="number" label="From warehouse" [formField]="entry.fields.warehouseId" (valueChange)="turned()">
                  @for (each of choices.all().warehouses; track each.id) {
                    <t-option [value]="each.id" label="{{ each.code }} · {{ each.name }}" />
                  }
                </t-select>
              </t-field>
            }
            @case ('carry') {
              <t-field name="Carrier"><t-text [formField]="entry.fields.carrier" (valueChange)="turned()" /></t-field>
              <t-field name="Service"><t-text [formField]="entry.fields.service" (valueChange)="turned()" /></t-field>
            }
          }
          <button nz-button class="act" [class.first]="!preview()" [disabled]="entry.busy()">See what would happen</button>
          @if (preview(); as seen) {
            <button nz-button type="button" class="act first" [disabled]="entry.busy() || seen.can === 0" (click)="start()">
              Do it for {{ seen.can | grouped }}
            </button>
          }
        </form>
        <t-refusal [problem]="entry.problem()" />
        @if (preview(); as seen) {
          <p class="quiet">
            {{ seen.can | grouped }} can be, {{ seen.rows.length - seen.can | grouped }} can’t. Each is looked at by itself: where they share stock or
            a credit limit, those that come first have it.
          </p>
          <t-sheet>
            <thead>
              <tr>
                <th>Order</th>
                <th>Customer</th>
                <th>What would become of it</th>
              </tr>
            </thead>
            <tbody>
              @for (row of shown(); track row.id) {
                <tr>
                  <td>
                    <a class="code" [routerLink]="['/selling/orders', row.id]">{{ row.number }}</a>
                  </td>
                  <td>{{ row.customer }}</td>
                  <td [class.trouble]="!row.can" class="words">{{ row.words }}</td>
                </tr>
              }
            </tbody>
          </t-sheet>
          @if (seen.rows.length > shown().length) {
            <p class="quiet">And {{ seen.rows.length - shown().length | grouped }} more that can be.</p>
          }
        }
      } @else {
        <h1>The same with many orders</h1>
        <p>Choose orders in the <a routerLink="/selling">order book</a> by the boxes before them, then press <b>With the chosen …</b></p>
        <t-refusal [problem]="entry.problem()" />
      }
      @if (runs().length > 0) {
        <section>
          <h2>Done before</h2>
          <t-sheet>
            <tbody>
              @for (run of runs(); track run.id) {
                <tr>
                  <td>{{ run.at | moment }}</td>
                  <td>
                    <a [routerLink]="['/selling/many', run.id]">{{ run.title }}</a>
                  </td>
                  <td>{{ run.who }}</td>
                  <td [class.trouble]="run.state === 'cut'">{{ words(run) }}</td>
                </tr>
              }
            </tbody>
          </t-sheet>
        </section>
      }
    </div>
  `,
  styleUrl: './many.less',
})
export class ManyPage {
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly choices = inject(Choices);
  protected readonly ids = inject(ChosenOrders).ids;
  protected readonly acts = computed(() => ACTS.filter(({ right }) => this.rights().has(right)));
  protected readonly words = runWords;
  protected readonly draft = signal(NO_DRAFT);
  protected readonly preview = signal<OrderPreview | null>(null);
  /** Those that can't be first: they are what somebody has to decide about. */
  protected readonly shown = computed(() => [...(this.preview()?.rows ?? [])].sort((a, b) => Number(a.can) - Number(b.can)).slice(0, SHOWN));
  protected readonly runs = signal<readonly OrderRun[]>([]);
  protected readonly entry = entryOf({
    draft: this.draft,
    route: () => (this.ids().length > 0 ? api.selling.startRun : null),
    body: (draft) => ({ act: actOf(draft), ids: [...this.ids()] }),
    place: (place) => place.replace(/^act\./, ''),
    keeps: false,
  });

  constructor() {
    this.load();
    whenHeard(
      () => ['orderRun'],
      () => this.load(),
    );
    const [first] = this.acts();
    if (first) this.draft.update((draft) => ({ ...draft, act: first.act }));
  }

  private load(): void {
    this.client.beside(api.selling.runs, {}, []).subscribe((runs) => this.runs.set(runs));
  }

  /** What was looked at is no preview of something else. */
  protected turned(): void {
    this.preview.set(null);
  }

  private body() {
    return { act: actOf(this.draft()), ids: [...this.ids()] };
  }

  protected look(): void {
    this.preview.set(null);
    this.entry.send(this.client.call(api.selling.previewRun, { body: this.body() }), (preview) => this.preview.set(preview), 'part');
  }

  protected start(): void {
    this.entry.send(this.client.call(api.selling.startRun, { body: this.body() }), ({ id }) => {
      void this.router.navigateByUrl(`/selling/many/${id}`);
    });
  }
}
