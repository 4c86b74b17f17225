/**
 * A document on the screen: its head, facts, what was refused, what can be done now; within it what is its own, as a rule
 * its lines; on a page of its own the trail and files as well. A room says what its documents have, this draws them.
 */
import { ChangeDetectionStrategy, Component, booleanAttribute, computed, effect, inject, input, untracked, type Signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { DocumentKind } from '@terrace/contract';
import type { Problem } from '../client/api-client';
import { Acts, Asking, type Act } from './acts';
import { Attachments } from './attachments';
import { Confirm } from './confirm';
import { DocumentHead } from './document-head';
import { CompanyCurrency } from './money';
import { Refused } from './refusal';
import { Jump, Sections } from './sections';
import { TrailPicture } from './trail';
import { Fold } from './fold';

export interface Fact {
  readonly title: string;
  /** Left out where it is empty. */
  readonly value: string;
  /** An amount in the company's currency, or a number of something. */
  readonly kind?: 'money' | 'code';
  /** What an amount is in, if not in the company's currency. */
  readonly currency?: string;
  readonly trouble?: boolean;
  /** Said quietly beneath the value. */
  readonly below?: string;
  /** Where the value leads, or what is said behind it and leads somewhere. */
  readonly page?: readonly (string | number)[];
  readonly beside?: { readonly words: string; readonly page: readonly (string | number)[] };
}

/** What every document has. */
export interface DocumentRecord {
  readonly id: number;
  readonly number: string;
  readonly version?: number;
}

/** What a store of {@link withRecord} offers. */
export interface DocumentStore<R extends DocumentRecord = DocumentRecord> {
  readonly record: Signal<R | null>;
  readonly problem: Signal<Problem | null>;
  readonly news: Signal<string>;
  readonly busy: Signal<boolean>;
  readonly load: (id: number) => void;
  readonly reload: () => void;
}

/** Keeps the record loaded that `id` names; `before` is called before another one comes. */
export function showRecord(id: () => number, store: Pick<DocumentStore, 'load'>, before: () => void = () => undefined): void {
  effect(() => {
    const named = id();
    untracked(() => {
      before();
      store.load(named);
    });
  });
}

@Component({
  selector: 't-document',
  imports: [Fold, Jump, Acts, Attachments, Confirm, DocumentHead, Refused, RouterLink, TrailPicture],
  providers: [Asking, Sections],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store().record(); as record) {
      <div class="page">
        <t-document-head [kind]="kind()" [id]="record.id" [number]="record.number" [state]="state()" [news]="store().news()" [wide]="wide()">
          @if (mark() !== '') {
            <span class="trouble">▲ {{ mark() }}</span>
          }
        </t-document-head>
        <dl class="facts">
          @for (fact of told(); track fact.title) {
            <div>
              <dt>{{ fact.title }}</dt>
              <dd [class.code]="fact.kind" [class.trouble]="fact.trouble">
                @if (fact.page) {
                  <a [class.code]="fact.kind" [routerLink]="fact.page">{{ fact.value }}</a>
                } @else {
                  {{ fact.value }}
                }
                @if (fact.beside; as more) {
                  <a class="quiet" [routerLink]="more.page">{{ more.words }}</a>
                }
                @if (fact.below) {
                  <div class="quiet">{{ fact.below }}</div>
                }
              </dd>
            </div>
          }
        </dl>
        <t-refusal [problem]="store().problem()" (again)="store().reload()" />
        <div class="acts">
          <ng-content select="[acts]" />
          <t-acts [acts]="acts()" [busy]="store().busy()" />
        </div>
        @if (wide()) {
          <t-jump />
        }
        <ng-content />
        @if (wide()) {
          <t-fold class="pane" heading="Trail" kept="document.trail" unfolded>
            <t-trail [kind]="kind()" [id]="record.id" [version]="record.version ?? 0" />
          </t-fold>
          @if (files()) {
            <t-fold class="pane" heading="Files" kept="document.files" unfolded>
              <t-attachments [kind]="kind()" [id]="record.id" />
            </t-fold>
          }
        }
      </div>
      @if (asking.about(); as act) {
        <t-confirm
          [heading]="act.asks?.heading ?? act.words"
          [consequences]="act.asks?.consequences ?? ''"
          [action]="act.asks?.action ?? act.words"
          [reasonWanted]="act.asks?.reasonWanted ?? false"
          (agreed)="asking.agree($event)"
          (dropped)="asking.drop()"
        />
      }
    } @else if (store().problem()) {
      <div class="page"><t-refusal [problem]="store().problem()" /></div>
    }
  `,
  styles: '.acts:not(:has(.act, .field)) { display: none; }',
})
export class DocumentFrame {
  readonly kind = input.required<DocumentKind>();
  readonly store = input.required<DocumentStore>();
  readonly state = input('');
  readonly facts = input.required<readonly Fact[]>();
  readonly acts = input.required<readonly Act[]>();
  /** What is wrong with it as a whole, in a word: late, overdue. */
  readonly mark = input('');
  /** On a page of its own, with trail and files. */
  readonly wide = input(false);
  readonly files = input(false, { transform: booleanAttribute });
  protected readonly asking = inject(Asking);
  private readonly currency = inject(CompanyCurrency);
  protected readonly told = computed(() =>
    this.facts()
      .filter((fact) => fact.value !== '')
      .map((fact) => (fact.kind === 'money' ? { ...fact, value: this.currency.behind(fact.value, fact.currency) } : fact)),
  );
}
