/** The keys of this screen, shown at `?`. */
import { A11yModule } from '@angular/cdk/a11y';
import { ChangeDetectionStrategy, Component, DestroyRef, computed, inject, output } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Keys } from '../ui/keys';

@Component({
  selector: 't-key-map',
  imports: [NzButtonModule, A11yModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="veil" (click)="closed.emit()"></div>
    <section role="dialog" aria-modal="true" aria-label="Keys of this screen" cdkTrapFocus cdkTrapFocusAutoCapture>
      <h2>Keys of this screen</h2>
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
      <button nz-button type="button" class="act" (click)="closed.emit()">Close <kbd>Esc</kbd></button>
    </section>
  `,
  styles: `
    .veil {
      position: fixed;
      inset: 0;
      z-index: 60;
      background: rgb(20 28 24 / 0.4);
    }
    section {
      position: fixed;
      z-index: 61;
      top: 12vh;
      left: 50%;
      translate: -50%;
      width: min(640px, 92vw);
      max-height: 76vh;
      overflow: auto;
      background: var(--surface);
      border: 1px solid var(--line-strong);
      padding: 18px 20px;
      display: grid;
      gap: 12px;
      justify-items: start;
    }
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

  constructor() {
    this.known.addAlone(
      [
        { key: 'Esc', words: 'Back', act: () => this.closed.emit() },
        { key: '?', words: 'Back', act: () => this.closed.emit() },
      ],
      inject(DestroyRef),
    );
  }
}
