/** The sections of a long record: they say themselves that they are there, and are jumped to from its head. */
import { ChangeDetectionStrategy, Component, Injectable, computed, inject, signal, type Signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';

export interface Section {
  readonly heading: Signal<string>;
  readonly element: HTMLElement;
  readonly show: () => void;
}

/** Provided by the page of a record that has sections; beside a list there are none to jump to. */
@Injectable()
export class Sections {
  private readonly known = signal<readonly Section[]>([]);
  /** In the order in which they stand on the screen. */
  readonly all = computed(() =>
    [...this.known()].sort((a, b) => (a.element.compareDocumentPosition(b.element) & Node.DOCUMENT_POSITION_FOLLOWING ? -1 : 1)),
  );

  /** Adds a section until the function that is answered is called. */
  add(section: Section): () => void {
    this.known.update((known) => [...known, section]);
    return () => this.known.update((known) => known.filter((each) => each !== section));
  }
}

@Component({
  selector: 't-jump',
  imports: [NzButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (all().length > 1) {
      <nav class="acts" aria-label="Sections">
        @for (each of all(); track each.element) {
          <button nz-button type="button" class="act small" (click)="each.show()">{{ each.heading() }}</button>
        }
      </nav>
    }
  `,
})
export class Jump {
  private readonly sections = inject(Sections, { optional: true });
  protected readonly all = computed(() => this.sections?.all() ?? []);
}
