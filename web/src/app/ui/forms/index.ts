/**
 * Forms. Angular's signal forms are still marked as experimental: only this folder imports them (a lint rule holds it),
 * and fields are plain value accessors, so that another kind of form can take them over.
 */
export { FormField as Control } from '@angular/forms/signals';
export { disabled, type FieldTree } from '@angular/forms/signals';
export { beginsAt, entryOf, overRecord, type Entry, type EntryOptions } from './entry';
export { writable } from './writable';
export { Leaving } from './leaving';
