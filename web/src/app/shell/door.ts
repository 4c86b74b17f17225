/** What stands before the rooms: the hillside, and on it what lets somebody in. */
import { ChangeDetectionStrategy, Component, input } from '@angular/core';

@Component({
  selector: 't-door',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg class="hill" viewBox="0 0 1280 800" preserveAspectRatio="xMidYMax slice" aria-hidden="true">
      <path class="one" d="M0 800V640h180v-60h220v-70h240v-80h260v-70h200v-60h180v500z" />
      <path class="two" d="M0 800v-80h260v-60h240v-60h260v-70h240v-70h280v340z" />
      <path class="three" d="M0 800v-30h380v-50h280v-60h300v-60h320v200z" />
    </svg>
    <main>
      <div class="head">
        <h1>
          <svg viewBox="0 0 32 20" width="40" height="25" aria-hidden="true">
            <path d="M2 17h9v-5h9V7h10" />
            <path d="M2 13h5V8h9V3h9" />
          </svg>
          {{ heading() }}
        </h1>
        <p class="quiet">{{ beneath() }}</p>
      </div>
      <div class="inside"><ng-content /></div>
    </main>
  `,
  styles: `
    :host {
      display: grid;
      place-items: center;
      min-height: 100dvh;
      position: relative;
      padding: 24px;
    }
    .hill {
      position: fixed;
      inset: 0;
      width: 100%;
      height: 100%;
      .one {
        fill: var(--hill-far);
      }
      .two {
        fill: var(--hill);
      }
      .three {
        fill: var(--hill-near);
      }
    }
    main {
      position: relative;
      background: var(--surface);
      border: 1px solid var(--line-strong);
      max-width: 100%;
    }
    .head {
      padding: 28px 32px 12px;
      display: grid;
      gap: 8px;
    }
    .inside {
      display: flex;
      flex-wrap: wrap;
    }
    h1 {
      font-size: 30px;
      display: flex;
      gap: 12px;
      align-items: center;
      svg {
        fill: none;
        stroke: var(--accent);
        stroke-width: 2.4;
        path + path {
          stroke: var(--supply);
        }
      }
    }
  `,
})
export class Door {
  readonly heading = input('Terrace');
  readonly beneath = input<string | undefined>('');
}
