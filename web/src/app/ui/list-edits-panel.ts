/** Beside a list that is edited: a value for all chosen rows, what is pending, saving and undoing. */
import { ChangeDetectionStrategy, Component, input, output, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import type { Problem } from '../client/api-client';
import { useKeys } from './keys';
import type { GridColumn, GridPending, GridRow } from './grid-cells';
import { Refused } from './refusal';
import { SelectField, SelectOption } from './select-field';
import { TextField } from './text-field';

/** What the panel needs of a store that gathers changes. */
export interface ListEdits {
  readonly chosen: () => readonly GridRow[];
  readonly pending: () => GridPending;
  readonly steps: () => readonly unknown[];
  readonly busy: () => boolean;
  readonly problem: () => Problem | null;
  readonly apply: (field: string, value: string) => void;
  readonly undo: () => void;
  readonly save: (done: (changed: number) => void) => void;
}

@Component({
  selector: 't-list-edits-panel',
  imports: [SelectField, SelectOption, TextField, NzButtonModule, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h2>Edit in the list</h2>
      <p class="quiet">Type into a cell, or choose rows and give all of them a value. Nothing is kept before you save.</p>
      <ng-content />
      <div class="acts">
        <button nz-button type="button" class="act small" (click)="all.emit()">Choose all rows</button>
        <t-select #field label="Field" [value]="columns()[0]?.field" style="width: auto">
          @for (column of columns(); track column.field) {
            <t-option [value]="column.field" label="{{ column.title }}" />
          }
        </t-select>
        <t-text #value label="Value" [placeholder]="hint()" style="width: 150px" />
        <button
          nz-button
          type="button"
          class="act"
          [disabled]="store().chosen().length === 0"
          (click)="store().apply(field.current(), value.value())"
        >
          Give it to {{ store().chosen().length }} chosen
        </button>
      </div>
      <t-refusal [problem]="store().problem()" />
      <p>
        <b>{{ store().pending().size }}</b> {{ store().pending().size === 1 ? 'row is' : 'rows are' }} changed and not saved. {{ saved() }}
      </p>
      <div class="acts">
        <button nz-button type="button" class="act first" [disabled]="store().pending().size === 0 || store().busy()" (click)="save()">
          Save {{ store().pending().size }} <kbd>Ctrl+Enter</kbd>
        </button>
        <button nz-button type="button" class="act" [disabled]="store().steps().length === 0" (click)="store().undo()">
          Undo the last <kbd>Ctrl+Z</kbd>
        </button>
      </div>
    </div>
  `,
})
export class ListEditsPanel {
  readonly store = input.required<ListEdits>();
  readonly columns = input.required<readonly GridColumn[]>();
  readonly hint = input('value');
  readonly all = output();
  protected readonly saved = signal('');

  constructor() {
    useKeys([
      { key: 'Ctrl+Enter', words: 'Save what was typed into the list', act: () => this.save() },
      { key: 'Ctrl+Z', words: 'Undo the last that was typed', act: () => this.store().undo() },
    ]);
  }

  protected save(): void {
    // What is still being typed counts, too.
    (document.activeElement as HTMLElement | null)?.blur();
    this.store().save((changed) => this.saved.set(`${changed} saved.`));
  }
}
