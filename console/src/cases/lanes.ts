import type { Mark } from '../api/client';
import type { ProposedCall } from '../parts/call';
import { day } from '../parts/when';

/** The marks to show: all, or without those that went as expected. */
export function shownMarks(marks: Mark[], all: boolean): Mark[] {
  return all ? marks : marks.filter((mark) => mark.weight !== 'expected');
}

/** The call that a mark is about, as it was last proposed before in the same run; nothing for marks of other sorts. */
export function callOf(marks: Mark[], mark: Mark): ProposedCall | undefined {
  if (mark.what !== 'call-sent' && mark.what !== 'call-proposed') {
    return undefined;
  }
  const { tool } = mark.data as { tool: string };
  return marks.findLast(
    (other) =>
      other.seq <= mark.seq && other.run === mark.run && other.what === 'call-proposed' && (other.data as ProposedCall).tool === tool,
  )?.data as ProposedCall | undefined;
}

/** The day of a mark, when it is another than that of the mark before it. */
export function newDay(mark: Mark, before: Mark | undefined): string | undefined {
  return before && day(before.at) === day(mark.at) ? undefined : day(mark.at);
}
