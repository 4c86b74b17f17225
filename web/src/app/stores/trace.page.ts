/** A lot or serial number traced both ways: as a picture, and as a list with contacts for a recall. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { Router } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type TraceView } from '@terrace/contract';
import { ApiClient, addressOf, problemOf, type Problem } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { pageOf } from '../ui/documents';
import { GroupedPipe, longDay } from '../ui/format';
import { Grid } from '../ui/grid';
import type { GridColumn } from '../ui/grid-cells';
import { Refused } from '../ui/refusal';
import { TakeFile } from '../ui/take-file';
import { StoresNav } from './stores-nav';
import { BOX_HEIGHT, BOX_WIDTH, layOut } from './trace-drawing';

@Component({
  imports: [NzButtonModule, Grid, Refused, StoresNav, TakeFile, GroupedPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-stores-nav />
    <div class="head">
      <h1>
        <span class="code">{{ trace()?.title }}</span>&ngsp;<span class="quiet">of {{ trace()?.item }}, from where and to where</span>
      </h1>
      <div class="acts">
        <button nz-button type="button" class="act" [class.first]="face() === 'picture'" (click)="face.set('picture')">Picture</button>
        <button nz-button type="button" class="act" [class.first]="face() === 'list'" (click)="face.set('list')">List for a recall</button>
        <a class="act" [tTakeFile]="csv()" (refused)="problem.set($event)">CSV</a>
        <a class="act" [href]="events()" [attr.download]="'trace-' + trace()?.title + '.json'">EPCIS (JSON)</a>
      </div>
      @if (summary(); as words) {
        <p>{{ words }}</p>
      }
      @if (trace()?.complete === false) {
        <p class="trouble">▲ It leads to more places than are drawn here: the picture ends after 5,000.</p>
      }
      <t-refusal [problem]="problem()" />
    </div>
    @if (face() === 'list') {
      <t-grid
        name="trace-list"
        [route]="listRoute"
        [query]="{}"
        [params]="params()"
        [columns]="columns"
        emptyWords="Nobody has any of it, and nobody gave it: it has not moved."
      />
    } @else if (layout(); as drawn) {
      <div class="picture" tabindex="0" role="region" aria-label="Picture of the trace">
        <svg [attr.width]="drawn.width" [attr.height]="drawn.height" role="group" [attr.aria-label]="summary()">
          @for (band of drawn.bands; track $index) {
            <path
              class="band"
              [class.likely]="band.edge.likely"
              [class.lit]="lit() === band.edge.from || lit() === band.edge.to"
              [attr.d]="band.path"
              [attr.stroke-width]="band.width"
            >
              <title>
                {{ band.edge.quantity }} {{ band.edge.unit }}, {{ band.edge.document }}, {{ day(band.edge.date)
                }}{{ band.edge.likely ? ': likely, by the order of use' : '' }}
              </title>
            </path>
          }
          @for (box of drawn.boxes; track box.key) {
            <g
              class="box"
              tabindex="0"
              role="link"
              [class.start]="box.node.level === 0"
              [class.party]="box.node.kind !== 'batch'"
              [attr.transform]="'translate(' + box.x + ' ' + box.y + ')'"
              [attr.aria-label]="box.node.title + ', ' + box.node.detail"
              (mouseenter)="lit.set(box.key)"
              (mouseleave)="lit.set('')"
              (click)="open(box.node)"
              (keydown.enter)="open(box.node)"
            >
              <rect [attr.width]="boxWidth" [attr.height]="boxHeight" />
              <text x="9" y="18" class="title">{{ short(box.node.title) }}</text>
              <text x="9" y="35" class="detail">{{ short(box.node.onHand ? box.node.onHand + ' still here' : box.node.detail) }}</text>
              <title>
                {{ box.node.title }}: {{ box.node.detail }}{{ box.node.onHand ? ', ' + (box.node.onHand | grouped) + ' still here' : '' }}
              </title>
            </g>
          }
        </svg>
      </div>
      <p class="legend quiet">
        Left to right: from suppliers, through production, to customers. The wider a band, the more passed. Dashed: pieces without a number, told by
        the order in which they were used.
      </p>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: auto auto 1fr auto;
      height: 100%;
      min-height: 0;
    }
    .head {
      display: grid;
      gap: 8px;
      padding: 12px 16px;
    }
    .picture {
      overflow: auto;
      min-height: 0;
      padding: 0 4px;
      background: var(--surface);
      border-block: 1px solid var(--line);
    }
    .band {
      fill: none;
      stroke: var(--supply);
      opacity: 0.35;
    }
    .band.likely {
      stroke-dasharray: 7 5;
    }
    .band.lit {
      opacity: 0.95;
      stroke: var(--accent);
    }
    .box {
      cursor: pointer;
    }
    .box rect {
      fill: var(--raised);
      stroke: var(--line-strong);
    }
    .box.start rect {
      fill: var(--accent-soft);
      stroke: var(--accent);
      stroke-width: 2;
    }
    .box.party rect {
      fill: var(--chosen);
      rx: 12px;
    }
    .box:hover rect {
      stroke: var(--accent);
    }
    .title {
      fill: var(--ink);
      font: 600 13px var(--text);
    }
    .detail {
      fill: var(--quiet);
      font: 12px var(--text);
    }
    .legend {
      padding: 6px 16px;
      font-size: 12px;
    }
  `,
})
export class TracePage {
  readonly kind = input.required<string>();
  readonly id = input.required<string>();
  private readonly client = inject(ApiClient);
  private readonly ask = lastAsked();
  private readonly router = inject(Router);
  protected readonly trace = signal<TraceView | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly face = signal<'picture' | 'list'>('picture');
  protected readonly lit = signal('');
  protected readonly listRoute = api.stores.traceList;
  protected readonly boxWidth = BOX_WIDTH;
  protected readonly boxHeight = BOX_HEIGHT;
  protected readonly day = longDay;
  protected readonly params = computed(() => ({ kind: this.kind() === 'lot' ? ('lot' as const) : ('serial' as const), id: Number(this.id()) }));
  protected readonly columns: readonly GridColumn[] = [
    { field: 'direction', title: 'Is', kind: 'text', width: 70 },
    { field: 'party', title: 'Who or where', kind: 'text' },
    { field: 'contact', title: 'Contact', kind: 'text' },
    { field: 'address', title: 'Address', kind: 'text' },
    { field: 'item', title: 'Item', kind: 'code', width: 110 },
    { field: 'piece', title: 'Lot or number', kind: 'code', width: 130 },
    { field: 'quantity', title: 'Quantity', kind: 'figure', width: 100, unit: 'unit' },
    { field: 'document', title: 'By', kind: 'code', width: 90 },
    { field: 'date', title: 'On', kind: 'date', width: 76 },
    { field: 'certainty', title: 'Is it', kind: 'text', width: 80 },
  ];

  protected readonly csv = computed(() =>
    addressOf(api.stores.traceList, {
      params: this.params(),
      query: { file: 'csv', columns: this.columns.map((column) => `${column.field}:${column.title}`).join(',') },
    }),
  );
  protected readonly events = computed(() => addressOf(api.stores.traceEvents, { params: this.params() }));
  protected readonly layout = computed(() => {
    const trace = this.trace();
    return trace && layOut(trace);
  });
  protected readonly summary = computed(() => {
    const nodes = this.trace()?.nodes ?? [];
    const count = (kind: string, words: string): string => {
      const found = nodes.filter((node) => node.kind === kind).length;
      return `${found} ${words}${found === 1 ? '' : 's'}`;
    };
    const made = nodes.filter((node) => node.kind === 'batch' && node.level > 0).length;
    return nodes.length === 0
      ? ''
      : `It came from ${count('supplier', 'supplier')}, is in ${made} ${made === 1 ? 'batch' : 'batches'} made later, and went to ${count('customer', 'customer')}.`;
  });
  constructor() {
    effect(() => {
      const params = this.params();
      untracked(() =>
        this.ask(this.client.call(api.stores.trace, { params }), {
          next: (trace) => this.trace.set(trace),
          error: (error: unknown) => this.problem.set(problemOf(error)),
        }),
      );
    });
  }

  protected short(text: string): string {
    return text.length > 25 ? `${text.slice(0, 24)}…` : text;
  }

  protected open(node: TraceView['nodes'][number]): void {
    const page = node.link && (pageOf(node.link.kind, node.link.id) ?? (node.kind === 'supplier' ? '/catalogue/suppliers' : '/catalogue/customers'));
    if (page) void this.router.navigateByUrl(page);
  }
}
