import { Refusal } from '@terrace/core';
import { saveUnit, unit, unitOf } from '../../catalogue';
import { query } from '../../platform/query';
import type { FileKind } from '../kind';

const everyUnit = query(() => (db) => db.select({ code: unit.code, name: unit.name, decimals: unit.decimals }).from(unit).orderBy(unit.code));

export const units: FileKind = {
  kind: 'units',
  title: 'Units',
  sample: [
    { code: 'each', name: 'each', decimals: '0' },
    { code: 'kg', name: 'kilogram', decimals: '3' },
  ],
  columns: () => [
    { key: 'code', title: 'Code', type: 'text', needed: true, known: ['unit'] },
    { key: 'name', title: 'Name', type: 'text' },
    { key: 'decimals', title: 'Decimals', type: 'whole', needed: true, hint: '0 to 5' },
  ],
  take: (work, [row], source) => {
    if (!row) throw new RangeError('no row');
    const code = row.need('code');
    const before = unitOf(work, code);
    const decimals = Number(row.or('decimals', String(before?.decimals ?? '')) || row.need('decimals'));
    if (decimals > 5) throw new Refusal('tooFine', 'A unit has 5 decimals at most.', { field: 'decimals' });
    const name = row.or('name', before?.name ?? code);
    if (before && before.name === name && before.decimals === decimals) return { outcome: 'same', name: code, changes: [] };
    saveUnit(work, { code, name, decimals, ...(before ? { version: before.version } : {}) });
    work.record('setup', 0, `unit ${code} by ${source}`);
    const changes = before
      ? [
          { field: 'name', from: before.name, to: name },
          { field: 'decimals', from: String(before.decimals), to: String(decimals) },
        ].filter((each) => each.from !== each.to)
      : [];
    return { outcome: before ? 'changed' : 'added', name: code, changes };
  },
  rows: (work) => everyUnit.all(work).map((each) => ({ ...each, decimals: String(each.decimals) })),
};
