/** How many of each of some lines: what is left of it, and beside that what is typed. */
import { ChangeDetectionStrategy, Component, input, model } from '@angular/core';
import { NumberField } from './fields';
import { GroupedPipe } from './format';
import { Sheet } from './sheet';

export interface HowManyOf {
  /** By which its figure is kept. */
  readonly key: string | number;
  readonly code: string;
  readonly description: string;
  /** Which piece of the item it is: its lot, its serial number. */
  readonly piece?: string;
  readonly left: string;
  readonly unit: string;
}

@Component({
  selector: 't-how-many',
  imports: [GroupedPipe, NumberField, Sheet],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-sheet>
      <thead>
        <tr>
          <th>Item</th>
          <th class="figure">{{ leftWords() }}</th>
          <th class="figure">{{ askedWords() }}</th>
        </tr>
      </thead>
      <tbody>
        @for (line of lines(); track line.key) {
          <tr>
            <td>
              <span class="code">{{ line.code }}</span> <span class="quiet">{{ line.piece }}</span>
              <div class="quiet">{{ line.description }}</div>
            </td>
            <td class="figure">
              {{ line.left | grouped }} <span class="quiet">{{ line.unit }}</span>
            </td>
            <td class="number">
              <t-number
                [label]="'How many ' + line.code + (line.piece ? ' ' + line.piece : '')"
                [value]="quantities()[line.key] ?? ''"
                [refused]="refused()[line.key]"
                (valueChange)="set(line.key, $event)"
              />
            </td>
          </tr>
        }
      </tbody>
    </t-sheet>
  `,
  styles: '.number { width: 130px; }',
})
export class HowMany {
  readonly lines = input.required<readonly HowManyOf[]>();
  readonly leftWords = input('Left');
  readonly askedWords = input.required<string>();
  /** What is refused, by key. */
  readonly refused = input<Readonly<Record<string, string | undefined>>>({});
  readonly quantities = model.required<Readonly<Record<string, string>>>();

  protected set(key: string | number, quantity: string): void {
    this.quantities.update((all) => ({ ...all, [key]: quantity }));
  }
}
