/**
 * What is found for something typed, beneath its field: a list over the screen, with one of it reached by the arrows.
 * The field keeps the focus and names what is reached (`aria-activedescendant`), so that a screen reader reads it out.
 */
import { ListKeyManager, type ListKeyManagerOption } from '@angular/cdk/a11y';
import { OverlayModule, type CdkOverlayOrigin, type ConnectedPosition } from '@angular/cdk/overlay';
import { NgTemplateOutlet } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  Directive,
  Injector,
  TemplateRef,
  computed,
  contentChild,
  effect,
  inject,
  input,
  output,
  signal,
} from '@angular/core';

let lists = 0;
const BENEATH: ConnectedPosition[] = [
  { originX: 'start', originY: 'bottom', overlayX: 'start', overlayY: 'top', offsetY: 2 },
  { originX: 'start', originY: 'top', overlayX: 'start', overlayY: 'bottom', offsetY: -2 },
  { originX: 'end', originY: 'bottom', overlayX: 'end', overlayY: 'top', offsetY: 2 },
];

/** How one that was found is drawn: `<ng-template tFound [of]="found()" let-each>`. */
@Directive({ selector: 'ng-template[tFound]' })
export class FoundRow<T> {
  /** What is found; it says the type of one. */
  readonly of = input<readonly T[]>([]);
  readonly template = inject<TemplateRef<{ $implicit: T }>>(TemplateRef);

  static ngTemplateContextGuard<T>(_row: FoundRow<T>, _context: unknown): _context is { $implicit: T } {
    return true;
  }
}

@Component({
  selector: 't-found-list',
  imports: [NgTemplateOutlet, OverlayModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <ng-template
      cdkConnectedOverlay
      [cdkConnectedOverlayOrigin]="origin()"
      [cdkConnectedOverlayOpen]="shown()"
      [cdkConnectedOverlayPositions]="positions"
      [cdkConnectedOverlayMinWidth]="width()"
      [cdkConnectedOverlayDisableClose]="true"
    >
      <ul class="t-found" role="listbox" [id]="id" [attr.aria-label]="label()">
        @for (each of found(); track $index; let index = $index) {
          <li
            role="option"
            [id]="id + '-' + index"
            [attr.aria-selected]="index === at()"
            [class.at]="index === at()"
            (mousedown)="$event.preventDefault(); taken.emit(each)"
          >
            <ng-container [ngTemplateOutlet]="row()?.template ?? null" [ngTemplateOutletContext]="{ $implicit: each }" />
          </li>
        } @empty {
          <li class="quiet" role="option" aria-selected="false">{{ nothing() }}</li>
        }
      </ul>
    </ng-template>
  `,
})
export class FoundList<T> {
  // Asked by the field above it, before the list has been given anything.
  readonly found = input<readonly T[]>([]);
  readonly open = input(false);
  readonly origin = input.required<CdkOverlayOrigin>();
  readonly label = input.required<string>();
  /** What is said where nothing is found; without it nothing opens then. */
  readonly nothing = input('');
  readonly width = input<number | string>('');
  readonly taken = output<T>();
  protected readonly row = contentChild<FoundRow<T>>(FoundRow);
  readonly id = `found-${(lists += 1)}`;
  readonly shown = computed(() => this.open() && (this.found().length > 0 || this.nothing() !== ''));
  protected readonly positions = BENEATH;
  protected readonly at = signal(0);
  /** The id of what is reached, where there is one. */
  readonly reachedId = computed(() => (this.shown() && this.found().length > 0 ? `${this.id}-${this.at()}` : null));
  private readonly keys = new ListKeyManager<ListKeyManagerOption>(
    computed(() => this.found() as readonly ListKeyManagerOption[]),
    inject(Injector),
  ).withWrap();

  constructor() {
    this.keys.change.subscribe((index) => this.at.set(index));
    effect(() => {
      this.found();
      this.keys.updateActiveItem(0);
      this.at.set(0);
    });
  }

  /**
   * What is reached of what the field has found by now: whoever types fast presses Enter before the list is drawn, and
   * means the first of what they typed, not of what is still shown.
   */
  reached(found: readonly T[]): T | undefined {
    return found === this.found() ? found[this.at()] : found[0];
  }

  /** Goes where an arrow leads, and says whether it was one. */
  move(event: KeyboardEvent): boolean {
    if (!this.shown() || this.found().length === 0 || (event.key !== 'ArrowDown' && event.key !== 'ArrowUp')) return false;
    this.keys.onKeydown(event);
    return true;
  }
}
