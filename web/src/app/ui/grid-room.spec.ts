import '@angular/compiler';
import { beforeEach, describe, expect, it } from 'vitest';
import type { GridColumn } from './grid-cells';
import { GridRoom } from './grid-room';

const column = (field: string, width: number, more: Partial<GridColumn> = {}): GridColumn => ({ field, title: field, kind: 'text', width, ...more });

describe('the columns of a list', () => {
  let columns: GridColumn[];
  let visible: Map<string, boolean>;
  let room: GridRoom;
  const grid = {
    getColumn: (field: unknown) => (visible.has(String(field)) ? ({ isVisible: () => visible.get(String(field)) } as never) : null),
    setColumnsVisible: (fields: unknown, shown: boolean) => (fields as string[]).forEach((field) => visible.set(field, shown)),
  };
  const seen = (): string[] => columns.map(({ field }) => field).filter((field) => visible.get(field) === true);
  beforeEach(() => {
    columns = [column('number', 100), column('customer', 100), column('held', 80, { spare: 2 }), column('late', 60, { spare: 1 })];
    visible = new Map(columns.map(({ field }) => [field, true]));
    room = new GridRoom(
      () => columns,
      () => 20,
    );
    room.begin(new Set(), new Set());
  });

  it('give way as there is less room, the most spare first, and come back with it', () => {
    const at = (width: number): string[] => {
      room.fit(grid, width);
      return seen();
    };
    expect(at(400)).toEqual(['number', 'customer', 'held', 'late']);
    expect(at(300)).toEqual(['number', 'customer', 'late']);
    expect(at(230)).toEqual(['number', 'customer']);
    expect(at(400)).toEqual(['number', 'customer', 'held', 'late']);
    expect(at(0)).toEqual(['number', 'customer', 'held', 'late']);
  });

  it('that somebody asked for stay whatever the room, and those that nobody wants stay away', () => {
    room.want('held', true);
    room.fit(grid, 230);
    expect(seen()).toEqual(['number', 'customer', 'held']);
    room.want('held', false);
    room.fit(grid);
    room.fit(grid, 400);
    expect(seen()).toEqual(['number', 'customer', 'late']);
    expect([...room.hidden()]).toEqual(['held']);
  });

  it('that the company added later take no room before they are shown', () => {
    room.fit(grid, 365);
    columns = [...columns, column('own_5', 120, { hidden: true })];
    visible.set('own_5', false);
    room.fit(grid);
    expect(seen()).toEqual(['number', 'customer', 'held', 'late']);
    room.want('own_5', true);
    room.fit(grid, 500);
    expect(seen()).toEqual(['number', 'customer', 'held', 'late', 'own_5']);
  });

  it('are as a view has them that somebody kept', () => {
    room.fit(grid, 400);
    visible.set('customer', false);
    room.take(new Set(['customer']));
    room.fit(grid, 400);
    expect(seen()).toEqual(['number', 'held', 'late']);
    expect([...room.unwanted]).toEqual(['customer']);
  });
});
