/** Calendars: on which days of the week work is done and in which shifts, and the holidays. */
import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type GroundView } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { CheckField } from '../ui/check-field';
import { Control } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { TextArea, TextField } from '../ui/text-field';
import { byCode, rowsEntry } from '../ui/rows-entry';

interface CalendarRow {
  readonly code: string;
  /** Monday first. */
  readonly days: readonly boolean[];
  readonly holidays: string;
  readonly shifts: string;
  readonly version: number | null;
}
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

@Component({
  selector: 't-ground-calendars',
  imports: [CheckField, Control, Labelled, NzButtonModule, Refused, TextArea, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-refusal [problem]="calendars.entry.problem()" />
    @for (each of ground().calendars; track each.code) {
      @if (calendars.entry.fields.rows[each.code]; as row) {
        <section class="pane" (focusin)="calendars.enter(each.code)">
          <h2>{{ each.code }}</h2>
          <div class="acts" role="group" [attr.aria-label]="'Days of work of ' + each.code">
            @for (day of days; track day; let index = $index) {
              <t-check [formField]="row.days[index]!">{{ day }}</t-check>
            }
          </div>
          <t-field name="Holidays" hint="days as 2027-12-24, one after the other">
            <t-area kind="code" rows="3" [formField]="row.holidays" />
          </t-field>
          <t-field name="Shifts" hint="one a line, as Early Mon-Fri 06:00-14:00">
            <t-area kind="code" rows="3" [formField]="row.shifts" />
          </t-field>
          @if (calendars.differs(each.code)) {
            <div class="acts">
              <button nz-button type="button" class="act small first" [disabled]="calendars.entry.busy()" (click)="calendars.save(each.code)">
                Save {{ each.code }}
              </button>
            </div>
          }
        </section>
      }
    }
    @if (rights().has('catalogue.edit')) {
      <div class="acts" style="margin-top: 16px" (focusin)="calendars.enter(null)">
        <t-field unseen name="New calendar" style="width: 160px"
          ><t-text kind="code" placeholder="new calendar" [formField]="calendars.entry.fields.fresh.code"
        /></t-field>
        <button nz-button type="button" class="act small" [disabled]="calendars.entry.busy()" (click)="calendars.save(null)">
          Add, Monday to Friday
        </button>
      </div>
    }
  `,
  styleUrl: './item-edit.page.less',
})
export class GroundCalendars {
  readonly ground = input.required<GroundView>();
  readonly saved = output<GroundView>();
  private readonly client = inject(ApiClient);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly days = DAYS;
  protected readonly calendars = rowsEntry<CalendarRow, BodyIn<typeof api.catalogue.saveCalendar>, GroundView>({
    part: 'calendars',
    ground: () => this.ground(),
    rows: (ground) =>
      byCode(
        ground.calendars,
        (each) => each.code,
        ({ code, workdays, holidays, shifts, version }) => ({
          code,
          days: DAYS.map((_, index) => workdays.includes(index + 1)),
          holidays: holidays.join(' '),
          shifts,
          version,
        }),
      ),
    empty: { code: '', days: DAYS.map((_, index) => index < 5), holidays: '', shifts: '', version: null },
    route: api.catalogue.saveCalendar,
    body: ({ code, days, holidays, shifts, version }) => ({
      code,
      workdays: days.flatMap((works, index) => (works ? [index + 1] : [])),
      holidays: holidays.split(/[\s,;]+/).filter(Boolean),
      shifts,
      ...(version === null ? {} : { version }),
    }),
    place: (place) => place.replace(/^(holidays|workdays)\..*/, (_, part: string) => (part === 'holidays' ? 'holidays' : 'days')),
    send: (body) => this.client.call(api.catalogue.saveCalendar, { body }),
    done: (ground) => this.saved.emit(ground),
    off: () => !this.rights().has('catalogue.edit'),
  });
}
