/**
 * One window for all files of a worker: a new one for each would take longer than most of them. Each begins with an empty
 * page and nothing kept.
 */
import { builtinEnvironments, type Environment } from 'vitest/runtime';

const KEPT = Symbol.for('terrace.window');
const kept = globalThis as { [KEPT]?: Promise<unknown> };

export default {
  name: 'one-window',
  viteEnvironment: 'client',
  setup: async (global, options) => {
    kept[KEPT] ??= Promise.resolve(builtinEnvironments.jsdom.setup(global, options));
    await kept[KEPT];
    document.head.replaceChildren();
    document.body.replaceChildren();
    for (const { name } of [...document.body.attributes]) document.body.removeAttribute(name);
    localStorage.clear();
    sessionStorage.clear();
    history.replaceState(null, '', '/');
    return { teardown: () => undefined };
  },
} satisfies Environment;
