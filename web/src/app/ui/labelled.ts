/** A field with its name above and, where there is one, the reason why it was refused below. */
import { ChangeDetectionStrategy, Component, booleanAttribute, computed, contentChild, input } from '@angular/core';
import { Control } from './forms';

@Component({
  selector: 't-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <label
      ><span class="name" [class.sr]="unseen()">{{ name() }}</span
      ><ng-content
    /></label>
    @if (wrong(); as wrong) {
      <span class="wrong">{{ wrong }}</span>
    } @else if (hint() !== '') {
      <span class="hint">{{ hint() }}</span>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 2px;
      align-content: start;
      min-width: 0;
    }
    label {
      display: grid;
      gap: 3px;
      min-width: 0;
    }
    .name {
      font-size: 12px;
      color: var(--quiet);
    }
    .wrong {
      color: var(--trouble);
      font-size: 12px;
    }
    .hint {
      color: var(--quiet);
      font-size: 12px;
    }
  `,
})
export class Labelled {
  readonly name = input.required<string>();
  /** Whether its name is only for those who hear it, as where a column has it for all. */
  readonly unseen = input(false, { transform: booleanAttribute });
  readonly refused = input<string | undefined>();
  readonly hint = input('');
  private readonly control = contentChild(Control, { descendants: true });
  /** What is wrong with it: as the page says, or as its form does once it was left. */
  protected readonly wrong = computed(() => {
    const state = this.control()?.state();
    return this.refused() ?? (state?.touched() === true ? state.errors()[0]?.message : undefined);
  });
}
