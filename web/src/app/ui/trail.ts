/** The trail: every document that led to, or came from, this one, as a picture that opens each. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { NzTimelineModule } from 'ng-zorro-antd/timeline';
import { Graph, layout } from '@dagrejs/dagre';
import { api, type AnswerOf, type DocumentKind, type Trail } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { kindWords, pageOf, stateWords } from './documents';
import { MomentPipe, shortDay } from './format';
import { Fold } from './fold';
import { Tip } from './tip';

const WIDTH = 158;
const HEIGHT = 56;

@Component({
  selector: 't-trail',
  imports: [Fold, NzTimelineModule, Tip, RouterLink, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (drawn(); as picture) {
      @if (picture.nodes.length > 1) {
        <div class="scroll" tabindex="0" role="group" aria-label="Trail of documents">
          <div class="picture" [style.width.px]="picture.width" [style.height.px]="picture.height">
            <svg [attr.width]="picture.width" [attr.height]="picture.height" aria-hidden="true">
              @for (line of picture.lines; track $index) {
                <path [attr.d]="line" />
              }
            </svg>
            @for (node of picture.nodes; track node.key) {
              <div class="node" [class.here]="node.here" [style.left.px]="node.x" [style.top.px]="node.y" [tTip]="node.detail">
                <span class="quiet">{{ node.kind }}</span>
                @if (node.page) {
                  <a [routerLink]="node.page" class="code">{{ node.number }}</a>
                } @else {
                  <span class="code">{{ node.number }}</span>
                }
                <span class="quiet state">{{ node.state }}</span>
              </div>
            }
          </div>
        </div>
      } @else {
        <p class="quiet">Nothing led to this yet, and nothing has come from it.</p>
      }
    }
    <t-fold heading="History">
      <nz-timeline>
        @for (each of history(); track $index) {
          <nz-timeline-item nzColor="gray">
            <span class="quiet">{{ each.at | moment }}</span> {{ each.who }}: {{ each.what }}
            @for (change of each.changes; track change.field) {
              <div class="quiet change">{{ change.field }}: {{ change.from || '—' }} → {{ change.to || '—' }}</div>
            }
          </nz-timeline-item>
        }
      </nz-timeline>
    </t-fold>
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
      min-width: 0;
    }
    .scroll {
      overflow: auto;
      max-height: 420px;
      border: 1px solid var(--line);
      background: var(--paper);
    }
    .picture {
      position: relative;
    }
    svg {
      position: absolute;
      inset: 0;
    }
    path {
      fill: none;
      stroke: var(--line-strong);
      stroke-width: 1.5;
    }
    .node {
      position: absolute;
      width: 158px;
      height: 56px;
      padding: 3px 8px;
      background: var(--surface);
      border: 1px solid var(--line-strong);
      display: grid;
      line-height: 1.2;
      font-size: 12px;
      border-left: 4px solid var(--supply);
    }
    .node.here {
      border-left-color: var(--accent);
      background: var(--accent-soft);
    }
    .state {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    summary {
      cursor: pointer;
      font-weight: 600;
      font-size: 13px;
      color: var(--quiet);
    }
    .change {
      font-size: 12px;
      overflow-wrap: anywhere;
    }
  `,
})
export class TrailPicture {
  readonly kind = input.required<DocumentKind>();
  readonly id = input.required<number>();
  /** Changes whenever the record does, so that the trail follows. */
  readonly version = input<number>(0);
  private readonly client = inject(ApiClient);
  private readonly askTrail = lastAsked();
  private readonly askHistory = lastAsked();
  private readonly trail = signal<Trail | null>(null);
  protected readonly history = signal<AnswerOf<typeof api.platform.history>>([]);

  constructor() {
    effect(() => {
      const params = { kind: this.kind(), id: this.id() };
      this.version();
      untracked(() => {
        this.askTrail(this.client.beside(api.platform.trail, { params }, null), { next: (trail) => this.trail.set(trail) });
        this.askHistory(this.client.beside(api.platform.history, { params }, []), { next: (history) => this.history.set(history) });
      });
    });
  }

  protected readonly drawn = computed(() => {
    const trail = this.trail();
    if (!trail) return null;
    const graph = new Graph();
    graph.setGraph({ rankdir: 'LR', nodesep: 12, ranksep: 34, marginx: 10, marginy: 10 });
    graph.setDefaultEdgeLabel(() => ({}));
    for (const node of trail.nodes) graph.setNode(`${node.kind}:${node.id}`, { width: WIDTH, height: HEIGHT });
    for (const link of trail.links) graph.setEdge(link.from, link.to);
    layout(graph);
    const size = graph.graph() as { width?: number; height?: number };
    return {
      width: size.width ?? 0,
      height: size.height ?? 0,
      nodes: trail.nodes.map((node) => {
        const place = graph.node(`${node.kind}:${node.id}`) as { x: number; y: number };
        const state = node.state === null ? '' : stateWords(node.state).words;
        return {
          key: `${node.kind}:${node.id}`,
          kind: kindWords(node.kind),
          number: node.number,
          detail: node.detail,
          page: pageOf(node.kind, node.id),
          here: node.kind === this.kind() && node.id === this.id(),
          x: place.x - WIDTH / 2,
          y: place.y - HEIGHT / 2,
          state: [state, shortDay(node.date)].filter(Boolean).join(', '),
        };
      }),
      lines: trail.links.map((link) => {
        const [from, to] = [graph.node(link.from) as { x: number; y: number }, graph.node(link.to) as { x: number; y: number }];
        const middle = (from.x + to.x) / 2;
        return `M${from.x + WIDTH / 2} ${from.y}H${middle}V${to.y}H${to.x - WIDTH / 2}`;
      }),
    };
  });
}
