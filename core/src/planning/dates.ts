/** When a suggestion is to be placed and when it comes. */
import type { Day } from '../base';
import type { DayCounter } from './compact/calendar-table';

export interface SuggestionDates {
  placeBy: Day;
  due: Day;
  daysLate: number;
}

/**
 * The working day by which something that is needed on `neededBy` has to be there: the last one not after it, or the
 * first from today on where that would be before today. Days of the receiving warehouse's calendar.
 */
export function workingDayFor(neededBy: Day, today: Day, calendar: DayCounter): Day {
  const day = calendar.onOrBefore(neededBy);
  return day < today ? calendar.onOrAfter(today) : day;
}

/** Dates, written into `into`, from the day it is needed, counting working days of the receiving warehouse; never placed in the past. */
export function dateSuggestion(
  neededBy: Day,
  leadDays: number,
  fenceDays: number,
  today: Day,
  calendar: DayCounter,
  into: SuggestionDates = { placeBy: today, due: today, daysLate: 0 },
): SuggestionDates {
  let due = workingDayFor(neededBy, today, calendar);
  let placeBy = calendar.back(due, leadDays);
  if (placeBy < today) {
    placeBy = calendar.onOrAfter(today);
    due = calendar.ahead(placeBy, leadDays);
  }
  if (fenceDays > 0) {
    const fence = calendar.ahead(today, fenceDays);
    if (due < fence) {
      due = calendar.onOrAfter(fence);
      placeBy = calendar.back(due, leadDays);
    }
  }
  if (leadDays === 0) placeBy = due;
  into.placeBy = placeBy;
  into.due = due;
  into.daysLate = Math.max(0, due - neededBy);
  return into;
}
