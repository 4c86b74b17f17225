/** Founding a company on an empty data folder, and what a company still lacks. */
import { z } from 'zod';
import { route } from '../base/route';
import { shortText } from '../base/schemas';

/** A step of setting a company up. */
const guideStep = z.object({
  /** Names it: `warehouses`, `people`, … */
  key: z.string(),
  title: z.string(),
  /** What is there, in words. */
  there: z.string(),
  /** Nothing is there yet, something is missing, or all is well. */
  state: z.enum(['empty', 'lacking', 'done']),
  /** What is missing, and what it blocks; `link` leads to where it is mended. */
  lacks: z.array(z.object({ text: z.string(), blocks: z.string(), link: z.string() })),
  /** Where it is done by hand. */
  link: z.string(),
  /** The kind of file that it can be brought in by, where it can. */
  file: z.string().nullable(),
});
export type GuideStep = z.output<typeof guideStep>;

export const foundingRoutes = {
  found: route({
    method: 'post',
    path: '/founding',
    summary: 'Found a company on an empty data folder, by the code that the server shows on its console',
    right: 'public',
    mostBytes: 8192,
    body: z.object({
      code: z.string().max(40, 'The code has eight signs.'),
      company: shortText.min(1, 'Give the name of the company.').max(120),
      address: z.string().trim().max(400, 'An address has at most 400 characters.'),
      /** ISO 3166-1, two letters. */
      country: z.string().regex(/^[A-Z]{2}$/, 'Choose a country.'),
      /** ISO 4217, three letters: the books are kept in it. */
      currency: z.object({ code: z.string().regex(/^[A-Z]{3}$/, 'Give three capital letters.'), name: shortText.min(1, 'Give its name.') }),
      /** IANA name: says when a day begins. */
      timeZone: z.string().max(60),
      name: shortText.min(1, 'Give your name.'),
      login: z.string().trim().min(2, 'Give a name of two characters at least.').max(80, 'A name has at most 80 characters.'),
      password: z.string().max(200, 'A password has at most 200 characters.'),
    }),
    answer: z.object({ login: z.string() }),
  }),
  guide: route({
    method: 'get',
    path: '/setup/guide',
    summary: 'What is set up, what is missing, and what that blocks: worked out from the data',
    right: 'setup.see',
    answer: z.object({ steps: z.array(guideStep) }),
  }),
};
