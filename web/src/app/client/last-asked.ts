/** Asking for what an input of the screen says, which may change before the answer comes. */
import type { Observable, Observer, Subscription } from 'rxjs';

/** An asker of one question at a time: asking again drops what was asked before, however late its answer comes. */
export function lastAsked(): <T>(question: Observable<T>, taker: Partial<Observer<T>>) => void {
  let before: Subscription | undefined;
  return (question, taker) => {
    before?.unsubscribe();
    before = question.subscribe(taker);
  };
}
