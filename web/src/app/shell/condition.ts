/** What keeps the company from being worked on safely, said on every screen for as long as it is so. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { whenHeard } from '../client/heard';
import { sessionFeature } from '../client/session.state';
import { Note } from '../ui/note';

type Said = AnswerOf<typeof api.setup.condition>['condition'];

@Component({
  selector: 't-condition',
  imports: [Note, NzButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (condition(); as now) {
      <t-note kind="trouble">
        <span class="said">
          <b>{{ now.stops ? 'Nothing is taken on now.' : 'Look after this soon.' }}</b> {{ now.words }}
          @if (now.kind === 'clockBack' && may()) {
            <button nz-button type="button" class="act small" [disabled]="busy()" (click)="believe()">The clock is right as it is</button>
          }
        </span>
      </t-note>
    }
  `,
  styles: '.said { display: flex; flex-wrap: wrap; gap: 4px 10px; align-items: center; }',
})
export class ConditionNote {
  private readonly client = inject(ApiClient);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly may = computed(() => this.rights().has('setup.edit'));
  protected readonly condition = signal<Said>(null);
  protected readonly busy = signal(false);

  constructor() {
    this.load();
    whenHeard(
      () => ['condition'],
      () => this.load(),
    );
  }

  private load(): void {
    // Where it can't be read, what was known of it stays.
    this.client.beside(api.setup.condition, {}, null).subscribe((answer) => {
      if (answer) this.condition.set(answer.condition);
    });
  }

  protected believe(): void {
    this.busy.set(true);
    this.client.beside(api.setup.believeClock, {}, null).subscribe((answer) => {
      this.busy.set(false);
      if (answer) this.condition.set(answer.condition);
    });
  }
}
