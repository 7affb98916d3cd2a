import type { CompletionContext, CompletionResult } from '@codemirror/autocomplete';
import type { Assessment } from '../api/client';

type Outline = Assessment['outline'];

/** What people can say in a rehearsal who are asked, of a call in doubt, and of a step that failed. */
export const SAYS = ['approve', 'decline', 'feedback', 'nothing', 'happened', 'not-happened', 'retry', 'skip', 'take-over'];

/** What they can do in it with nobody asking them. */
export const UNASKED = ['pause', 'resume', 'advise', 'stop', 'resolve', 'withdraw'];

/** The words of a rehearsal's keys: what stands in its parts, and what some of them can say. */
const REHEARSAL: Record<string, string[]> = {
  '': ['title', 'case', 'answers', 'must'],
  case: ['kind', 'page', 'subject', 'text', 'language', 'channel', 'priority', 'fields', 'labels', 'requester', 'documents', 'at'],
  answers: [
    ...['tool', 'model', 'people', 'comes', 'unasked'],
    ...['with', 'gives', 'fails', 'in-doubt', 'silent', 'calls', 'tokens'],
    ...['say', 'by', 'reason', 'text', 'form', 'named', 'unawaited', 'at', 'says', 'after'],
  ],
  must: ['end', 'steps', 'calls', 'never', 'verdicts', 'told', 'asked', 'at-most'],
};
const SAID: Record<string, string[]> = {
  say: SAYS,
  unasked: UNASKED,
  comes: ['reply', 'document', 'event', 'case'],
  end: ['resolved', 'with-people', 'waiting', 'closed'],
  proof: ['signed-in', 'verified', 'claimed'],
};

/** The same in a file of rehearsals. */
function rehearsed(before: string, lines: string[], outline: Outline): string[] | undefined {
  const key = /(?:^|[\s{,-])([a-z-]+):\s*\[?["']?[\w.-]*$/.exec(before)?.[1];
  if (key) {
    return key === 'tool' || key === 'never'
      ? Object.keys(outline.tools)
      : key === 'kind'
        ? outline.kinds
        : key === 'page'
          ? outline.pages
          : key === 'asked'
            ? [...outline.groups, ...outline.desks]
            : SAID[key];
  }
  const part = /^\s/.test(before) ? (lines.findLast((line) => /^[a-z]+:/.test(line))?.replace(/:.*/, '') ?? '') : '';
  return /(?:^|[\s{,-])[a-z-]*$/.test(before) ? REHEARSAL[part] : undefined;
}

/** Which words can stand where the cursor is; undefined where none are known. */
export function words(before: string, lines: string[], outline: Outline): string[] | undefined {
  if (lines.some((line) => /^(case|answers|must):/.test(line))) {
    return rehearsed(before, lines, outline);
  }
  const ways = ['hand over', 'stop', ...outline.steps];
  const key = /(?:^|[\s{,-])([a-z-]+):\s*\[?["']?[^:{}]*$/.exec(before)?.[1];
  if (/\$\{[^}]*$/.test(before) || /when:\s*["']?.*$/.test(before)) {
    const path = (/([a-z_](?:[\w.]|`[^`]*`)*)?$/.exec(before)?.[1] ?? '').replaceAll('`', '');
    return outline.fields[path.includes('.') ? path.slice(0, path.lastIndexOf('.')) : ''];
  }
  if (/^\s*on:\s*\{[^}]*$/.test(before)) {
    return /:\s*[^,{}]*$/.test(before.replace(/^\s*on:/, '')) ? ways : outline.problems;
  }
  if (/^\s*go:\s*\{[^}]*:\s*[^,{}]*$/.test(before) || key === 'go' || key === 'otherwise') {
    return ways;
  }
  switch (key) {
    case 'call':
      return Object.keys(outline.tools);
    case 'of':
    case 'not':
    case 'ask':
    case 'hand-over':
      return [...outline.groups, ...outline.desks];
    case 'follow':
      return outline.pages;
    case 'for':
      return outline.steps.concat(outline.agents);
    case 'agent':
      return outline.agents;
    case 'desk':
      return outline.desks;
    case 'kind':
      return outline.kinds;
    case 'edit':
    case 'show':
      return outline.fields[''];
  }
  if (/^\s*with:\s*\{[^}]*$/.test(before) || /^\s+[a-z-]*$/.test(before)) {
    const tool = lines
      .findLast((line) => /^\s*call:/.test(line))
      ?.replace(/^\s*call:\s*/, '')
      .trim();
    if (tool && outline.tools[tool] && /^\s*with:/.test(lines.at(-1) ?? before)) {
      return outline.tools[tool];
    }
  }
  if (/^\s*-\s*[a-z.-]*$/.test(before) && lines.some((line) => /^\s*tools:/.test(line))) {
    return Object.keys(outline.tools);
  }
  return /^\s*[a-z-]*$/.test(before) ? keys(lines, outline) : undefined;
}

/** The keys of the block's verb; the verbs, as long as it has none. */
function keys(lines: string[], outline: Outline): string[] {
  const verb = Object.keys(outline.verbs).find((word) => lines.some((line) => line.startsWith(`${word}:`)));
  return verb ? outline.verbs[verb]! : Object.keys(outline.verbs);
}

/** A field as expressions name it: between backticks when it has other signs than letters, digits and low lines. */
export function quoted(field: string): string {
  return /^[A-Za-z_]\w*$/.test(field) ? field : `\`${field}\``;
}

/** Offers names of steps, tools, fields and groups, as the outline of the draft has them. */
export function completions(outline: () => Outline | undefined) {
  return (context: CompletionContext): CompletionResult | null => {
    const known = outline();
    const line = context.state.doc.lineAt(context.pos);
    const before = line.text.slice(0, context.pos - line.from);
    const word = context.matchBefore(/[\w.-]*/);
    if (!known || !word || (word.from === word.to && !context.explicit && !/[:.{]\s*$/.test(before))) {
      return null;
    }
    const lines: string[] = [];
    for (let number = line.number - 1; number > 0 && !context.state.doc.line(number).text.startsWith('```'); number--) {
      lines.unshift(context.state.doc.line(number).text);
    }
    const found = words(before, lines, known);
    if (!found?.length) {
      return null;
    }
    const inExpression = /\$\{[^}]*$/.test(before) || /when:/.test(before);
    const from = inExpression ? word.from + word.text.lastIndexOf('.') + 1 : word.from;
    const options = found.map((label) => ({ label, type: 'text', apply: inExpression ? quoted(label) : label }));
    return { from, options, validFor: /^[\w -]*$/ };
  };
}
