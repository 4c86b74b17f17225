/** A family: its attributes, and every variant they make, as a preview until it is made. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type FamilyView } from '@terrace/contract';
import { Refusal, variantsOf } from '@terrace/core';
import { ApiClient, problemOf } from '../client/api-client';
import { Choices } from '../client/choices';
import { lastAsked } from '../client/last-asked';
import { sessionFeature } from '../client/session.state';
import { NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Leave } from '../ui/leave';
import { Refused } from '../ui/refusal';
import { valuesFrom } from './family-values';
import { InCurrencyPipe } from '../ui/money';
import { CheckField } from '../ui/check-field';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import { Sheet } from '../ui/sheet';
import { Tip } from '../ui/tip';

interface Variant {
  readonly values: Readonly<Record<string, string>>;
  readonly itemId: number | null;
  readonly onHand: string;
  readonly taken: string;
  readonly code: string;
  readonly description: string;
  readonly sellPrice: string;
  readonly chosen: boolean;
}

interface Draft {
  readonly code: string;
  readonly description: string;
  readonly group: string;
  /** Values of each attribute as they are typed: `S small, M medium`. */
  readonly attributes: readonly { readonly name: string; readonly values: string }[];
}

const EMPTY: Draft = { code: '', description: '', group: '', attributes: [{ name: 'Size', values: '' }] };

const bodyOf = ({ attributes, ...draft }: Draft): BodyIn<typeof api.catalogue.createFamily> => ({
  ...draft,
  attributes: attributes.filter((each) => each.name !== '').map((each) => ({ name: each.name, values: valuesFrom(each.values) })),
});

@Component({
  imports: [
    Control,
    Leave,
    Tip,
    Sheet,
    NzButtonModule,
    CheckField,
    SelectField,
    SelectOption,
    TextField,
    InCurrencyPipe,
    Labelled,
    NumberField,
    Refused,
    RouterLink,
    GroupedPipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './family.page.html',
  styleUrl: './item-edit.page.less',
})
export class FamilyPage {
  readonly id = input.required<string>();
  private readonly client = inject(ApiClient);
  private readonly ask = lastAsked();
  private readonly router = inject(Router);
  protected readonly choices = inject(Choices);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly family = signal<FamilyView | null>(null);
  protected readonly draft = signal<Draft>(EMPTY);
  protected readonly variants = signal<readonly Variant[]>([]);
  protected readonly price = signal('');
  protected readonly entry = entryOf({
    draft: this.draft,
    route: () => api.catalogue.createFamily,
    body: bodyOf,
    ready: () => !(Number(this.id()) > 0) || this.family()?.id === Number(this.id()),
  });
  protected readonly chosen = computed(() => this.variants().filter((each) => each.chosen && each.itemId === null));
  /** What the attributes as typed would make, before anything is kept. */
  protected readonly preview = computed((): { readonly variants: readonly { code: string; description: string }[]; readonly wrong: string } => {
    const { code, description, attributes } = this.draft();
    try {
      const made = variantsOf(
        code || '…',
        description || '…',
        attributes.filter((each) => each.name !== '').map((each) => ({ name: each.name, values: valuesFrom(each.values) })),
      );
      return { variants: made, wrong: '' };
    } catch (error) {
      if (error instanceof Refusal) return { variants: [], wrong: error.message };
      throw error;
    }
  });

  constructor() {
    effect(() => {
      const id = Number(this.id());
      untracked(() => {
        if (!(id > 0)) return;
        this.ask(this.client.call(api.catalogue.getFamily, { params: { id } }), {
          next: (family) => this.take(family),
          error: (error: unknown) => this.entry.refuse(problemOf(error)),
        });
      });
    });
  }

  private take(family: FamilyView): void {
    this.family.set(family);
    this.entry.begin({
      code: family.code,
      description: family.description,
      group: family.group,
      attributes: family.attributes.map((each) => ({
        name: each.name,
        values: each.values.map((value) => (value.code === value.name ? value.code : `${value.code} ${value.name}`)).join(', '),
      })),
    });
    this.variants.set(family.variants.map((each) => ({ ...each, chosen: false })));
  }

  protected set(change: Partial<Draft>): void {
    this.draft.update((draft) => ({ ...draft, ...change }));
  }

  protected setVariant(index: number, change: Partial<Variant>): void {
    this.variants.update((variants) => variants.map((each, at) => (at === index ? { ...each, ...change } : each)));
  }

  protected chooseAll(chosen: boolean): void {
    this.variants.update((variants) => variants.map((each) => ({ ...each, chosen: chosen && each.itemId === null && each.taken === '' })));
  }

  protected priceAll(): void {
    this.variants.update((variants) => variants.map((each) => (each.itemId === null ? { ...each, sellPrice: this.price() } : each)));
  }

  protected save(): void {
    const [family, body] = [this.family(), bodyOf(this.draft())];
    this.entry.send(
      family
        ? this.client.call(api.catalogue.changeFamily, { params: { id: family.id }, body: { ...body, version: family.version } })
        : this.client.call(api.catalogue.createFamily, { body }),
      (saved) => (family ? this.take(saved) : void this.router.navigateByUrl(`/catalogue/families/${saved.id}`)),
    );
  }

  protected make(): void {
    const family = this.family();
    if (!family) return;
    const variants = this.chosen().map(({ code, description, values, sellPrice }) => ({ code, description, values, sellPrice: sellPrice || '0' }));
    const call = this.client.call(api.catalogue.makeVariants, { params: { id: family.id }, body: { version: family.version, variants } });
    this.entry.send(call, (saved) => this.take(saved));
  }
}
