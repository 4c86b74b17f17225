export const DEMO: string;
export const DEMO_TODAY: string;
export function copyDemo(folder: string): void;
