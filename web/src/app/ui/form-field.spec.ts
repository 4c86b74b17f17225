import '@angular/compiler';
import type { Type } from '@angular/core';
import { TestBed, getTestBed } from '@angular/core/testing';
import { BrowserTestingModule, platformBrowserTesting } from '@angular/platform-browser/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { CheckField } from './check-field';
import { TextField } from './text-field';

/** What the template does when somebody changes the field. */
interface Inside {
  readonly typed: (text: string) => void;
  readonly turn: (checked: boolean) => void;
  readonly off: () => boolean;
}

describe('a field in a form', () => {
  beforeEach(() => {
    getTestBed().resetTestEnvironment();
    getTestBed().initTestEnvironment(BrowserTestingModule, platformBrowserTesting());
  });
  const field = <T>(type: Type<T>): T & Inside => TestBed.runInInjectionContext(() => new type()) as T & Inside;

  it('of texts takes what the form writes, and tells it what is typed', () => {
    const text = field(TextField);
    const told: string[] = [];
    text.registerOnChange((value) => told.push(value));
    text.writeValue('oak');
    expect([text.value(), told]).toEqual(['oak', []]);
    text.typed('oaks');
    expect([text.value(), told]).toEqual(['oaks', ['oaks']]);
    text.writeValue(null);
    expect(text.value()).toBe('');
  });

  it('of yes and no tells what was turned, and that it was left', () => {
    const check = field(CheckField);
    const told: (boolean | string)[] = [];
    check.registerOnChange((value) => told.push(value));
    check.registerOnTouched(() => told.push('left'));
    check.writeValue(true);
    check.turn(false);
    expect([check.checked(), told]).toEqual([false, [false, 'left']]);
  });

  it('is switched off and on by the form', () => {
    const check = field(CheckField);
    check.setDisabledState(true);
    expect(check.off()).toBe(true);
    check.setDisabledState(false);
    expect(check.off()).toBe(false);
  });
});
