import type { Mark } from '../api/client';
import type { ProposedCall } from '../parts/call';
import { day } from '../parts/when';

/** A column of the time line: a lane, or an agent's own part of the lane of agents where several work on the case. */
export interface Column {
  lane: Mark['lane'];
  title: string;
  agent?: string;
}

const MOST_AGENTS = 3;

/** The lanes as columns; agents have one each, in the order they came in, as long as there is room. */
export function columnsOf(lanes: Mark['lane'][], marks: Mark[]): Column[] {
  const agents = [
    ...new Map(
      marks.filter((mark) => mark.lane === 'agent' && mark.actor.sort === 'agent').map((mark) => [mark.actor.id, mark.actor.name]),
    ),
  ];
  const several = agents.length > 1 && agents.length <= MOST_AGENTS;
  return lanes.flatMap((lane): Column[] =>
    lane === 'agent' && several ? agents.map(([agent, title]) => ({ lane, title, agent })) : [{ lane, title: lane }],
  );
}

/** The position of the column that a mark stands in. */
export function columnOf(columns: Column[], mark: Mark): number {
  const own = columns.findIndex((column) => column.lane === mark.lane && column.agent === mark.actor.id);
  return own >= 0 ? own : columns.findIndex((column) => column.lane === mark.lane);
}

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
