import type { components } from '../api/schema';

/** Where in a document a value was found. */
export type FoundAt = components['schemas']['FoundAt'];

/** The place in words, such as “declaration.xlsx, Goods, C7”. */
export const told = (found: FoundAt): string => [found.name, found.sheet, found.at].filter(Boolean).join(', ');

/** The page that shows the document there. */
export function linkTo(caseId: string, found: FoundAt): string {
  const query = new URLSearchParams();
  if (found.sheet) query.set('sheet', found.sheet);
  if (found.at) query.set('at', found.at);
  if (found.words) query.set('words', found.words);
  const place = query.toString();
  return `/cases/${caseId}/documents/${found.document}${place ? `?${place}` : ''}`;
}

/** The letters of a column by its number, from 0: A, B, … Z, AA. */
export const letters = (index: number): string =>
  index < 26 ? String.fromCharCode(65 + index) : letters(Math.floor(index / 26) - 1) + letters(index % 26);

/** A text in parts, of which every second one is the words that are looked for; lower and upper case are the same. */
export function marked(text: string, words: string): string[] {
  if (!words) {
    return [text];
  }
  const parts: string[] = [];
  const plain = text.toLowerCase();
  const wanted = words.toLowerCase();
  let from = 0;
  for (let at = plain.indexOf(wanted); at >= 0; at = plain.indexOf(wanted, from)) {
    parts.push(text.slice(from, at), text.slice(at, at + words.length));
    from = at + words.length;
  }
  return [...parts, text.slice(from)];
}

/** Whether a cell or row is the one that is meant, such as “C7” or “row 7”. */
export const isAt = (at: string, row: number, column?: number): boolean =>
  column === undefined ? at === `row ${row}` : at === `${letters(column)}${row}`;
