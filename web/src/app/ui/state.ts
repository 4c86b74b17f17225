/** A document's state: a word with a small stepped glyph that fills as the document goes on. */
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { stateWords } from './documents';

/** The glyph as SVG text, for places that draw without Angular. */
export function stateGlyph(steps: number, ended: boolean): string {
  const bars = [0, 1, 2, 3].map((step) => {
    const height = 3 + step * 2.5;
    return `<rect x="${step * 4}" y="${11 - height}" width="3.2" height="${height}" fill="${step < steps ? 'currentColor' : 'none'}" stroke="currentColor" stroke-width="0.8"/>`;
  });
  const stroke = ended ? '<path d="M0 6h16" stroke="currentColor" stroke-width="1.4"/>' : '';
  return `<svg width="17" height="12" viewBox="0 0 16.4 11.6" aria-hidden="true">${bars.join('')}${stroke}</svg>`;
}

@Component({
  selector: 't-state',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg width="17" height="12" viewBox="0 0 16.4 11.6" aria-hidden="true">
      @for (bar of bars(); track bar.x) {
        <rect
          [attr.x]="bar.x"
          [attr.y]="11 - bar.height"
          width="3.2"
          [attr.height]="bar.height"
          [attr.fill]="bar.full ? 'currentColor' : 'none'"
          stroke="currentColor"
          stroke-width="0.8"
        />
      }
      @if (words().ended) {
        <path d="M0 6h16" stroke="currentColor" stroke-width="1.4" />
      }
    </svg>
    <span>{{ words().words }}</span>
  `,
  styles: ':host { display: inline-flex; gap: 6px; align-items: center; white-space: nowrap; } svg { color: var(--supply); flex: none; }',
})
export class State {
  readonly state = input.required<string>();
  protected readonly words = computed(() => stateWords(this.state()));
  protected readonly bars = computed(() => [0, 1, 2, 3].map((step) => ({ x: step * 4, height: 3 + step * 2.5, full: step < this.words().steps })));
}
