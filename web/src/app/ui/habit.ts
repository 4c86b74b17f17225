/** How figures and days are written on this screen: as whoever is signed in is used to. Set before anything of theirs is drawn. */
import { habits, type Habit, type HabitName } from '@terrace/core';

let now: Habit = habits.point;

export const habitNow = (): Habit => now;

export function useHabit(name: HabitName): void {
  now = habits[name];
}
