/** Changes typed into the list of planning rules; an emptied figure is taken from the item or its group again. */
import { signalStore } from '@ngrx/signals';
import { api, ruleColumns, type RuleColumn } from '@terrace/contract';
import { withListEdits } from '../ui/list-edits';

function isRuleColumn(field: string): field is RuleColumn {
  return (ruleColumns as readonly string[]).includes(field);
}

export const RulesStore = signalStore(
  withListEdits((client, changes) => {
    const known = changes.map((change) => ({
      ...change,
      fields: Object.fromEntries(Object.entries(change.fields).filter(([field]) => isRuleColumn(field))),
    }));
    return client.call(api.planning.changeRules, { body: { changes: known } });
  }),
);
