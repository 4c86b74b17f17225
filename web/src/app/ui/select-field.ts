/**
 * One of a few: a list that opens. The kit's list says nothing to a screen reader of itself, so its inner field is given
 * its name, what is chosen and whether it is open.
 */
import { LiveAnnouncer } from '@angular/cdk/a11y';
import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  Directive,
  ElementRef,
  afterRenderEffect,
  booleanAttribute,
  computed,
  contentChildren,
  forwardRef,
  inject,
  input,
  linkedSignal,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { FormsModule, NG_VALUE_ACCESSOR } from '@angular/forms';
import { NzSelectComponent, NzSelectModule } from 'ng-zorro-antd/select';
import { FormField } from './form-field';

type Value = string | number | null | undefined;

const textOf = (value: Value): string => (value === null || value === undefined ? '' : String(value));

/** One of what can be chosen: `<t-option [value]="each.id" label="{{ each.name }}" />`. */
@Directive({ selector: 't-option' })
export class SelectOption {
  readonly value = input.required<Value>();
  readonly label = input.required<string>();
  readonly disabled = input(false, { transform: booleanAttribute });
}

@Component({
  selector: 't-select',
  imports: [FormsModule, NzSelectModule],
  providers: [{ provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => SelectField), multi: true }],
  changeDetection: ChangeDetectionStrategy.OnPush,
  // Within a label, a press would count twice: it would open and close again.
  // What is typed to find something in the list is nothing that the page holds yet.
  host: { '(click)': '$event.preventDefault()', '(input)': 'hush($event)' },
  template: `
    <nz-select
      [ngModel]="chosen()"
      [ngModelOptions]="{ standalone: true }"
      [nzDisabled]="disabled() || off()"
      [nzOptions]="all()"
      nzShowSearch
      [nzOptionHeightPx]="28"
      [nzDropdownMatchSelectWidth]="false"
      nzDropdownClassName="t-options"
      nzNotFoundContent="Nothing has these words."
      [nzPlaceHolder]="placeholder()"
      (ngModelChange)="choose($event)"
      (nzOpenChange)="open.set($event)"
      (nzBlur)="left()"
    />
  `,
  styles: ':host { display: block; min-width: 0; } nz-select { width: 100%; }',
})
export class SelectField extends FormField<string | number | null> {
  /** Values are compared as texts, and what is chosen is told as one. */
  readonly value = input<Value>('');
  readonly valueChange = output<string>();
  /** What it is called where no label stands around it. */
  readonly label = input('');
  /** What a form is told: the text, a number, or nothing where the empty one is chosen. */
  readonly as = input<'text' | 'number' | 'maybe'>('text');
  readonly placeholder = input('');
  readonly disabled = input(false, { transform: booleanAttribute });
  readonly refused = input(false, { transform: booleanAttribute });
  private readonly options = contentChildren(SelectOption, { descendants: true });
  protected readonly all = computed(() =>
    this.options().map((each) => ({ value: textOf(each.value()), label: each.label().trim(), disabled: each.disabled() })),
  );
  /** What is chosen, as a text. */
  readonly current = linkedSignal(() => textOf(this.value()));
  protected readonly chosen = computed(() => (this.all().some((each) => each.value === this.current()) ? this.current() : null));
  /**
   * Whether the list is open, as the kit says. It is told by its method and not by a binding: a binding arrives with the
   * next drawing, and the kit would then throw away what was typed since the key that opened the list.
   */
  protected readonly open = signal(false);
  private readonly list = viewChild.required(NzSelectComponent);
  private readonly announcer = inject(LiveAnnouncer);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);

  constructor() {
    super();
    const keys = (event: KeyboardEvent): void => this.key(event);
    this.host.nativeElement.addEventListener('keydown', keys, { capture: true });
    inject(DestroyRef).onDestroy(() => this.host.nativeElement.removeEventListener('keydown', keys, { capture: true }));
    afterRenderEffect(() => {
      const inner = this.host.nativeElement.querySelector('input');
      const chosen = this.all().find((each) => each.value === this.chosen());
      const said: Readonly<Record<string, string>> = {
        role: 'combobox',
        'aria-haspopup': 'listbox',
        'aria-expanded': String(this.open()),
        'aria-label': this.label() || this.labelAround(),
        'aria-description': chosen?.label ?? '',
        'aria-invalid': this.refused() || this.bad() ? 'true' : '',
      };
      for (const [name, value] of Object.entries(said))
        if (value === '') inner?.removeAttribute(name);
        else inner?.setAttribute(name, value);
    });
  }

  /** The words of the label around it, without what is chosen, which the label holds as well. */
  private labelAround(): string {
    return this.host.nativeElement.closest('label')?.querySelector(':scope > span, :scope > .name')?.textContent?.trim() ?? '';
  }

  /** Enter goes on while the list is closed, as in other fields; while it is open, what the arrows come to is read out. */
  private key(event: KeyboardEvent): void {
    // What it tells to what holds it comes by here as well.
    if (!(event.target instanceof HTMLInputElement)) return;
    const typed = event.target.value.trim().toLowerCase();
    if (event.key === 'Enter' && event.isTrusted && (!this.open() || typed !== '')) {
      event.stopImmediatePropagation();
      event.preventDefault();
      if (typed !== '' && !this.take(typed)) return;
      // The kit would open its list at any key: it is told to what holds it.
      this.host.nativeElement.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }));
    } else if (event.key === 'Escape' && this.open()) {
      // It closes the list, and is no step back from the page.
      event.stopImmediatePropagation();
      this.list().setOpenState(false);
    } else if (event.key === 'ArrowDown' && !this.open()) {
      event.preventDefault();
      event.stopImmediatePropagation();
      this.list().setOpenState(true);
    } else if (event.key.startsWith('Arrow') && this.open())
      setTimeout(() => void this.announcer.announce(document.querySelector('.t-options .ant-select-item-option-active')?.textContent ?? ''));
  }

  /** Chooses what the arrows came to, or the first with what was typed: whoever types fast does not wait for the list. Says whether there is one. */
  private take(typed: string): boolean {
    const reached = document.querySelector('.t-options .ant-select-item-option-active')?.textContent?.trim() ?? '';
    const found = this.all().filter((each) => !each.disabled && each.label.toLowerCase().includes(typed));
    const chosen = found.find((each) => each.label === reached) ?? found[0];
    if (!chosen) return false;
    this.choose(chosen.value);
    this.list().setOpenState(false);
    return true;
  }

  protected hush(event: Event): void {
    if (event.target !== this.host.nativeElement) event.stopPropagation();
  }

  protected choose(value: string): void {
    this.current.set(value);
    this.changed(this.told(value));
    this.valueChange.emit(value);
    // As any field does when somebody changes it.
    this.host.nativeElement.dispatchEvent(new Event('input', { bubbles: true }));
  }

  private told(value: string): string | number | null {
    if (this.as() === 'text') return value;
    if (value === '') return null;
    return this.as() === 'number' ? Number(value) : value;
  }

  writeValue(value: string | number | null): void {
    this.current.set(textOf(value));
  }
}
