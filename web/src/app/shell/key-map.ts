/** The keys of this screen, shown at `?`. */
import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Dialog } from '../ui/dialog';
import { Keys } from '../ui/keys';

@Component({
  selector: 't-key-map',
  imports: [Dialog, NzButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-dialog heading="Keys of this screen" width="min(640px, 92vw)" [closedBy]="['?']" (dropped)="closed.emit()">
      <dl>
        @for (each of keys(); track each.key) {
          <div>
            <dt>
              <kbd>{{ each.key }}</kbd>
            </dt>
            <dd>{{ each.words }}</dd>
          </div>
        }
        <div>
          <dt><kbd>Enter</kbd></dt>
          <dd>Go on to the next field; in lists, open</dd>
        </div>
        <div>
          <dt><kbd>↑ ↓</kbd></dt>
          <dd>Move in a list; the record beside follows</dd>
        </div>
        <div>
          <dt><kbd>Ctrl+C</kbd></dt>
          <dd>Copy chosen rows for a spreadsheet</dd>
        </div>
      </dl>
      <div class="acts">
        <button nz-button type="button" class="act" (click)="closed.emit()">Close <kbd>Esc</kbd></button>
      </div>
    </t-dialog>
  `,
  styles: `
    dl {
      margin: 0;
      columns: 2;
      width: 100%;
    }
    dl div {
      display: grid;
      grid-template-columns: 92px 1fr;
      gap: 8px;
      padding: 3px 0;
      break-inside: avoid;
      font-size: 13px;
    }
    dd {
      margin: 0;
    }
    kbd {
      font-family: var(--figures);
      border: 1px solid var(--line-strong);
      padding: 0 5px;
      background: var(--raised);
    }
  `,
})
export class KeyMap {
  readonly closed = output();
  private readonly known = inject(Keys);
  protected readonly keys = computed(() => [...new Map(this.known.all().map((each) => [each.key, each])).values()]);
}
