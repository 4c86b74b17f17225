/** A book of documents: the list with its views on the left, the chosen document beside it. */
import { NgTemplateOutlet } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  TemplateRef,
  computed,
  contentChild,
  inject,
  input,
  signal,
  type OnInit,
} from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { NzDropDownModule } from 'ng-zorro-antd/dropdown';
import { NzMenuModule } from 'ng-zorro-antd/menu';
import type { AnyRoute, CustomRecord, LiveTopic, Right } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import { Beside } from './beside';
import { Grid } from './grid';
import type { GridColumn, GridRow, GridView } from './grid-cells';
import { Keys } from './keys';
import { namedOrPointed } from './named';

export interface BookOf {
  /** What people call all of them. */
  readonly heading: string;
  /** Under this name the user's columns are kept. */
  readonly name: string;
  readonly route: AnyRoute;
  readonly columns: readonly GridColumn[];
  readonly views?: readonly GridView[];
  /** Live topics for which the list is fetched again. */
  readonly topics: readonly LiveTopic[];
  /** Said where nothing is in it, with what one does about that. */
  readonly emptyWords: string;
  /** Fields that the company added to such records are columns, too. */
  readonly own?: CustomRecord;
  /** Where one is shown on its own, before its id; left out where it is shown beside only. */
  readonly page?: string;
  /** How a new one is begun, by whoever has the right; with a key and what the list of keys says of it. */
  readonly fresh?: { readonly words: string; readonly page: string; readonly right?: Right; readonly key?: string; readonly says?: string };
  /** What is opened in place by a key of its own, the list beside kept narrow: its lines, as a rule. */
  readonly opens?: { readonly key: string; readonly says: string };
  /** What a company that has none yet is offered. */
  readonly begin?: string;
  /** Other pages that belong to it. */
  readonly others?: readonly { readonly words: string; readonly page: string }[];
  /** What is done with those that are chosen, by whoever has one of the rights. */
  readonly many?: { readonly words: string; readonly rights: readonly Right[]; readonly act: (rows: readonly GridRow[]) => void };
}

const MOST_BESIDE = 2;

@Component({
  selector: 't-book',
  imports: [Beside, Grid, NgTemplateOutlet, NzButtonModule, NzDropDownModule, NzMenuModule, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">{{ book().heading }}</h1>
    <div><ng-content /></div>
    <t-beside [bare]="beside.chosen() === 0" [opened]="opened()">
      <t-grid
        list
        [name]="book().name"
        [own]="book().own"
        [route]="book().route"
        [columns]="book().columns"
        [views]="book().views ?? []"
        [view]="view()"
        [topics]="book().topics"
        [emptyWords]="book().emptyWords"
        [several]="many() !== null"
        (selected)="chosen.set($event)"
        (pointed)="beside.point(+$event.id)"
        (opened)="open(+$event.id)"
      >
        @if (fresh(); as new) {
          <a tool class="act first small" [routerLink]="new.page"
            >{{ new.words }}
            @if (new.key) {
              <kbd>{{ new.key }}</kbd>
            }
          </a>
        }
        @if (offered(); as act) {
          <button nz-button tool type="button" class="act small" (click)="act.act(chosen())">{{ act.words }} ({{ chosen().length }})</button>
        }
        @for (other of few(); track other.page) {
          <a tool class="act small" [routerLink]="other.page">{{ other.words }}</a>
        }
        @if (more().length > 0) {
          <button nz-button tool type="button" class="act small" nz-dropdown nzTrigger="click" [nzDropdownMenu]="menu">More pages</button>
        }
        @if (book().begin) {
          <a first class="act" [routerLink]="book().fresh?.page">{{ book().begin }}</a>
        }
      </t-grid>
      <div record>
        @if (beside.chosen() !== 0) {
          <ng-container *ngTemplateOutlet="record(); context: { $implicit: beside.chosen(), opened: opened() }" />
        }
      </div>
    </t-beside>
    <nz-dropdown-menu #menu="nzDropdownMenu">
      <ul nz-menu>
        @for (other of more(); track other.page) {
          <li nz-menu-item>
            <a [routerLink]="other.page">{{ other.words }}</a>
          </li>
        }
      </ul>
    </nz-dropdown-menu>
  `,
  styles: ':host { display: grid; grid-template-rows: auto minmax(0, 1fr); height: 100%; } .sr { position: absolute; }',
})
export class Book implements OnInit {
  readonly book = input.required<BookOf>();
  /** The view that the address names, and the document. */
  readonly view = input<string | undefined>();
  readonly named = input<string | undefined>();
  private readonly router = inject(Router);
  private readonly keys = inject(Keys);
  private readonly destroyed = inject(DestroyRef);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  /** How a new one is begun, where somebody may. */
  protected readonly fresh = computed(() => {
    const { fresh } = this.book();
    return fresh && (!fresh.right || this.rights().has(fresh.right)) ? fresh : null;
  });
  /** Other pages: beside the list as long as they are few, else those after the first in a menu. */
  protected readonly few = computed(() => {
    const others = this.book().others ?? [];
    return others.length > MOST_BESIDE ? others.slice(0, 1) : others;
  });
  protected readonly more = computed(() => (this.book().others ?? []).slice(this.few().length));
  protected readonly many = computed(() => {
    const { many } = this.book();
    return many && many.rights.some((right) => this.rights().has(right)) ? many : null;
  });
  protected readonly chosen = signal<readonly GridRow[]>([]);
  /** Only where something is chosen: a list has enough above it. */
  protected readonly offered = computed(() => (this.chosen().length > 0 ? this.many() : null));
  protected readonly beside = namedOrPointed(this.named);
  /** Whether the chosen one is opened in place. */
  protected readonly opened = signal(false);
  protected readonly record = contentChild.required(TemplateRef<{ $implicit: number; opened: boolean }>);

  ngOnInit(): void {
    const { fresh, opens } = this.book();
    if (opens) this.keys.add([{ key: opens.key, words: opens.says, act: () => this.opened.update((opened) => !opened) }], this.destroyed);
    if (fresh?.key)
      this.keys.add([{ key: fresh.key, words: fresh.says ?? fresh.words, act: () => void this.router.navigateByUrl(fresh.page) }], this.destroyed);
  }

  protected open(id: number): void {
    const { page } = this.book();
    if (page) void this.router.navigateByUrl(`${page}/${id}`);
  }
}
