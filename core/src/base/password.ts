/** Which passwords are good enough. */
import { Refusal } from './refusal';
import { normalLogin } from './sign-in';

/** Characters that a password has at least. */
export const SHORTEST_PASSWORD = 10;

export interface PasswordRule {
  /** Passwords that everybody tries first, in small letters. */
  readonly common: ReadonlySet<string>;
  /** What others know of its owner, such as the names that they sign in with and go by. */
  readonly known: readonly string[];
}

/** A password without what people hang on a common one: figures and signs at its ends. */
function bare(password: string): string {
  return password.toLowerCase().replace(/^[\d\W_]+|[\d\W_]+$/gu, '');
}

/**
 * Refuses a password that is easily guessed: `weakPassword`, with what is wrong with it. Rules that make people write passwords
 * down, such as one sign of each kind, are none of it.
 *
 * @param password as it was typed
 * @param rule the common ones, and what is known of its owner
 * @example assertGoodPassword('Password2027!', { common: new Set(['password']), known: [] }) // refuses: everybody tries it
 * @source NIST SP 800-63B, 5.1.1.2: a least length, no composition rules, and a comparison with common passwords.
 */
export function assertGoodPassword(password: string, { common, known }: PasswordRule): void {
  const refuse = (why: string): never => {
    throw new Refusal('weakPassword', `${why} Three or four words that have nothing to do with each other are a good one.`, { field: 'password' });
  };
  if ([...password].length < SHORTEST_PASSWORD) refuse(`A password has ${SHORTEST_PASSWORD} characters at least.`);
  const small = password.toLowerCase();
  if (common.has(small) || common.has(bare(password))) refuse('This password is one of those that everybody tries first.');
  if (new Set(small).size < 4) refuse('This password has too few different characters.');
  const owned = known.map(normalLogin).find((each) => each.length >= 4 && normalLogin(password).includes(each));
  if (owned !== undefined) refuse(`A password that contains “${owned}” is tried early.`);
}
