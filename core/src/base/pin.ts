/** Which PINs are good enough, for terminals at which people sign in by badge and PIN. */
import { Refusal } from './refusal';

/** Wrong PINs after which none is taken any more, until somebody gives a new one. */
export const MOST_PIN_TRIES = 8;

/**
 * Refuses `weakPin`: four to eight figures, not all the same, and no row of them up or down.
 *
 * @example assertGoodPin('1234') // refuses
 */
export function assertGoodPin(pin: string): void {
  const refuse = (why: string): never => {
    throw new Refusal('weakPin', why, { field: 'pin' });
  };
  if (!/^\d{4,8}$/.test(pin)) refuse('A PIN has four to eight figures.');
  const steps = new Set([...pin].slice(1).map((figure, index) => Number(figure) - Number(pin[index])));
  const [step] = steps;
  if (steps.size === 1 && step !== undefined && Math.abs(step) <= 1)
    refuse('This PIN is one of those that everybody tries first: take figures in no row.');
}

/** A badge as it is looked up, however it was read: no spaces, no small letters. */
export function normalBadge(text: string): string {
  return text.normalize('NFKC').replace(/\s/g, '').toUpperCase();
}
