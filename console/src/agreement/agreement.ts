import type { AgreementSheet } from '../api/client';

/** What people did beside what was proposed, in the order in which it is shown. */
export const SORTS = [
  { word: 'same', says: 'just the same', colour: 'bg-accent' },
  { word: 'other', says: 'otherwise', colour: 'bg-signal' },
  { word: 'not-comparable', says: 'nothing comparable', colour: 'bg-faint' },
  { word: 'open', says: 'not said yet', colour: 'bg-line' },
] as const;

export function agreed(sheet: AgreementSheet): number {
  return sheet.counted['same']?.calls ?? 0;
}

export function comparable(sheet: AgreementSheet): number {
  return agreed(sheet) + (sheet.counted['other']?.calls ?? 0);
}

/** The way of working that trusts with a step more; nothing above alone. */
export function next(works: string): 'supervised' | 'alone' | undefined {
  return works === 'shadow' ? 'supervised' : works === 'supervised' ? 'alone' : undefined;
}
