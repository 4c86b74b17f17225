/**
 * The lines of a document, or what came of it (receipts, completions, payments), as a table: columns are data; a cell in
 * which something is typed, and what stands beneath a line, are templates of the screen.
 */
import { NgTemplateOutlet } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  Directive,
  TemplateRef,
  computed,
  contentChild,
  contentChildren,
  inject,
  input,
  output,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { Acts, type Act } from './acts';
import { Sheet } from './sheet';

export interface LineColumn<L> {
  /** The heading; without any heading the table has no head. */
  readonly title?: string;
  /** What is said of a line. */
  readonly value?: (line: L) => string;
  /** Said quietly behind the value, and beneath it. */
  readonly unit?: (line: L) => string;
  readonly below?: (line: L) => string;
  /** The item of a line: its code leads to it where its id is known. */
  readonly item?: (line: L) => { readonly itemId?: number; readonly code: string; readonly description: string };
  /** The name of the template that draws it. */
  readonly cell?: string;
  readonly acts?: (line: L) => readonly Act[];
  readonly figure?: boolean;
  readonly code?: boolean;
  readonly quiet?: boolean;
  readonly trouble?: (line: L) => boolean;
  /** Left out where it is false. */
  readonly shown?: boolean;
  /** Pixels, where what is typed needs room. */
  readonly width?: number;
}

/** Draws the cells of one column: `<ng-template tCell="arrived" [of]="order.lines" let-line>`. */
@Directive({ selector: 'ng-template[tCell]' })
export class LineCell<L> {
  readonly tCell = input.required<string>();
  /** The lines, so that the compiler knows what a line is. */
  readonly of = input.required<readonly L[]>();
  readonly template = inject<TemplateRef<{ $implicit: L }>>(TemplateRef);

  static ngTemplateContextGuard<L>(_: LineCell<L>, context: unknown): context is { $implicit: L } {
    return context !== undefined;
  }
}

/** Draws what stands beneath a line, as wide as the table. */
@Directive({ selector: 'ng-template[tBelow]' })
export class BelowLine<L> {
  /** Whether something stands beneath a line. */
  readonly tBelow = input.required<(line: L) => boolean>();
  readonly of = input.required<readonly L[]>();
  readonly template = inject<TemplateRef<{ $implicit: L }>>(TemplateRef);

  static ngTemplateContextGuard<L>(_: BelowLine<L>, context: unknown): context is { $implicit: L } {
    return context !== undefined;
  }
}

@Component({
  selector: 't-lines',
  imports: [Sheet, Acts, NgTemplateOutlet, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-sheet>
      @if (headed()) {
        <thead>
          <tr>
            @for (column of shown(); track $index) {
              <th [class.figure]="column.figure">{{ column.title }}</th>
            }
          </tr>
        </thead>
      }
      <tbody>
        @for (line of lines(); track keyOf(line, $index)) {
          <tr [class.bad]="bad()(line)" (mouseenter)="pointed.emit(line)" (focusin)="pointed.emit(line)">
            @for (column of shown(); track $index) {
              <td
                [class.figure]="column.figure"
                [class.code]="column.code"
                [class.quiet]="column.quiet"
                [class.trouble]="column.trouble?.(line)"
                [style.width.px]="column.width"
              >
                @if (column.item?.(line); as item) {
                  @if (item.itemId) {
                    <a class="code" [routerLink]="['/catalogue/items', item.itemId]">{{ item.code }}</a>
                  } @else {
                    <span class="code">{{ item.code }}</span>
                  }
                  <div class="quiet">{{ item.description }}</div>
                } @else if (column.cell) {
                  @if (cellOf(column.cell); as template) {
                    <ng-container *ngTemplateOutlet="template; context: { $implicit: line }" />
                  }
                } @else if (column.acts) {
                  <t-acts [acts]="column.acts(line)" [busy]="busy()" [small]="true" />
                }
                {{ column.value?.(line) }}
                @if (column.unit?.(line); as unit) {
                  <span class="quiet">{{ unit }}</span>
                }
                @if (column.below?.(line); as more) {
                  <div class="quiet">{{ more }}</div>
                }
              </td>
            }
          </tr>
          @if (below(); as more) {
            @if (more.tBelow()(line)) {
              <tr>
                <td [attr.colspan]="shown().length"><ng-container *ngTemplateOutlet="more.template; context: { $implicit: line }" /></td>
              </tr>
            }
          }
        }
      </tbody>
    </t-sheet>
  `,
})
export class Lines<L extends object> {
  readonly lines = input.required<readonly L[]>();
  readonly columns = input.required<readonly LineColumn<L>[]>();
  readonly bad = input<(line: L) => boolean>(() => false);
  /** While something is being done nothing else can be begun. */
  readonly busy = input(false);
  /** The line that somebody looks at. */
  readonly pointed = output<L>();
  protected readonly cells = contentChildren(LineCell<L>);
  protected readonly below = contentChild(BelowLine<L>);
  protected readonly shown = computed(() => this.columns().filter((column) => column.shown !== false));
  protected readonly headed = computed(() => this.shown().some((column) => column.title));

  protected cellOf(name: string): TemplateRef<{ $implicit: L }> | undefined {
    return this.cells().find((cell) => cell.tCell() === name)?.template;
  }

  protected keyOf(line: L, index: number): unknown {
    return 'id' in line ? line.id : index;
  }
}
