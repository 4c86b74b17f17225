/** An order divided: reasons are chosen or lines moved by hand, and what would become of it is seen before anything is kept. */
import { CdkDrag, CdkDropList, CdkDropListGroup, type CdkDragDrop } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, effect, inject, input, numberAttribute, signal, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type DivisionPreview } from '@terrace/contract';
import { divideReasons, type DivideReason } from '@terrace/core';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { lastAsked } from '../client/last-asked';
import { CheckField } from '../ui/check-field';
import { REASON_WORDS } from '../ui/divide-words';
import { NumberField } from '../ui/fields';
import { GroupedPipe, grouped, readyWords, shortDay } from '../ui/format';
import { useKeys } from '../ui/keys';
import { Labelled } from '../ui/labelled';
import { InCurrencyPipe } from '../ui/money';
import { Refused } from '../ui/refusal';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import { draftOf, moved, type PartDraft } from './divide-draft';

type PartLine = DivisionPreview['parts'][number]['lines'][number];
interface InHand {
  readonly lineId: number;
  readonly from: number;
  readonly code: string;
  readonly quantity: string;
}

@Component({
  imports: [
    CdkDrag,
    CdkDropList,
    CdkDropListGroup,
    CheckField,
    GroupedPipe,
    InCurrencyPipe,
    Labelled,
    NumberField,
    NzButtonModule,
    Refused,
    RouterLink,
    SelectField,
    SelectOption,
    TextField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './divide.page.html',
  styleUrl: './divide.less',
})
export class DividePage {
  readonly id = input.required({ transform: numberAttribute });
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  protected readonly choices = inject(Choices);
  private readonly ask = lastAsked();
  protected readonly reasons = divideReasons;
  protected readonly words = REASON_WORDS;
  protected readonly day = shortDay;
  protected readonly ready = readyWords;
  protected readonly seen = signal<DivisionPreview | null>(null);
  protected readonly chosen = signal<readonly DivideReason[]>([]);
  /** The parts as somebody put them together; none as long as reasons alone say what they are. */
  private readonly byHand = signal<readonly PartDraft[] | null>(null);
  protected readonly inHand = signal<InHand | null>(null);
  protected readonly target = signal(0);
  protected readonly busy = signal(false);
  protected readonly problem = signal<Problem | null>(null);

  constructor() {
    effect(() => {
      this.id();
      untracked(() => {
        this.byHand.set(null);
        this.look();
      });
    });
    useKeys([{ key: 'Ctrl+Enter', words: 'Divide the order', act: () => this.divide() }]);
  }

  /** Asks what would become of the order. */
  protected look(): void {
    const parts = this.byHand();
    const body = parts ? { parts: parts.map((part) => ({ ...part, lines: [...part.lines] })) } : { reasons: [...this.chosen()] };
    this.problem.set(null);
    this.ask(this.client.call(api.selling.previewDivision, { params: { id: this.id() }, body }), {
      next: (seen) => this.seen.set(seen),
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
        // What can't be is not what is shown.
        this.byHand.set(null);
      },
    });
  }

  protected choose(reason: DivideReason, on: boolean): void {
    this.chosen.update((chosen) => (on ? [...chosen, reason] : chosen.filter((each) => each !== reason)));
    this.byHand.set(null);
    this.inHand.set(null);
    this.look();
  }

  /** What is there of a line, in words. */
  protected stands({ reserved, promiseDate, quantity, free }: PartLine): string {
    const words = reserved === quantity ? 'reserved' : promiseDate ? `on ${shortDay(promiseDate)}` : '';
    return [words, free === '0' ? '' : `${grouped(free)} free of charge`].filter(Boolean).join(', ');
  }

  private parts(): readonly PartDraft[] {
    const seen = this.seen();
    return this.byHand() ?? (seen ? draftOf(seen) : []);
  }

  protected take(lineId: number, from: number): void {
    const line = this.seen()?.parts[from]?.lines.find((each) => each.lineId === lineId);
    if (!line) return;
    this.inHand.set({ lineId, from, code: line.code, quantity: line.quantity });
    const count = this.seen()?.parts.length ?? 1;
    this.target.set(from === 0 ? 1 : count > 2 ? 0 : 0);
  }

  protected dropped({ previousContainer, container, item }: CdkDragDrop<number, number, number>): void {
    this.shift({ lineId: item.data, from: previousContainer.data, to: container.data, quantity: '' });
  }

  protected move(): void {
    const hand = this.inHand();
    if (hand) this.shift({ ...hand, to: this.target() });
  }

  private shift(asked: { lineId: number; from: number; to: number; quantity: string }): void {
    if (asked.from === asked.to) return;
    this.byHand.set(moved(this.parts(), asked));
    this.inHand.set(null);
    this.look();
  }

  protected change(at: number, change: Partial<PartDraft>, now = true): void {
    this.byHand.set(this.parts().map((part, index) => (index === at ? { ...part, ...change } : part)));
    if (now) this.look();
  }

  protected divide(): void {
    const seen = this.seen();
    if (!seen || seen.parts.length < 2 || this.busy()) return;
    this.busy.set(true);
    const parts = this.parts().map((part) => ({ ...part, lines: [...part.lines] }));
    this.client.call(api.selling.divideOrder, { params: { id: this.id() }, body: { version: seen.order.version, parts } }).subscribe({
      next: () => void this.router.navigateByUrl(`/selling/orders/${this.id()}`),
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
