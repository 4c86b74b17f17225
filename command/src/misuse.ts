/** Ends the command with exit code 2: what was asked makes no sense. */
export class Misuse extends Error {}
