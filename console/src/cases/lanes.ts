import type { Mark } from '../api/client';

export const LANES = ['requester', 'agent', 'tools', 'people'] as const;

/** Marks that only the curious want: what went as expected on the way to something. */
const QUIET = new Set(['call-proposed', 'model-asked', 'step']);

/** The marks to show: all, or without those that went as expected. */
export function shownMarks(marks: Mark[], all: boolean): Mark[] {
  return all
    ? marks
    : marks.filter(
        (mark) => !QUIET.has(mark.what) && !(mark.what === 'verdict' && (mark.data as { verdict: string }).verdict === 'allow'),
      );
}

/** Whether a mark says that a person was needed. */
export function needsPerson(mark: Mark): boolean {
  return mark.what === 'approval-opened' || mark.what === 'handed-over' || mark.what === 'in-doubt';
}
