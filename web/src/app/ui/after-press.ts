/**
 * Does something once whatever is being pressed is let go, or at once. What a field says when it is left may move what
 * stands below it: not from under the finger that presses a button there.
 */
let pressed = false;
const waiting: (() => void)[] = [];

if (typeof document !== 'undefined') {
  document.addEventListener('pointerdown', () => (pressed = true), { capture: true });
  for (const end of ['pointerup', 'pointercancel'])
    document.addEventListener(
      end,
      () => {
        pressed = false;
        // The click comes right after.
        setTimeout(() => {
          for (const act of waiting.splice(0)) act();
        });
      },
      { capture: true },
    );
}

export function afterPress(act: () => void): void {
  if (pressed) waiting.push(act);
  else act();
}
