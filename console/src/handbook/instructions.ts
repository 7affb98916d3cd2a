/** Steps of a model to begin with: an instruction that says what good work is, and the keys that hold it. */
export const INSTRUCTIONS: Record<string, string> = {
  'answer a question': `## Answer it
Answer what is asked, from the facts alone, as one would tell a neighbour. Begin with the answer, then what to do next. What
the facts don't say is left open, and said so.
\`\`\`step
draft: text
max-words: 120
cite: true
save: answer
on: { too-little: hand over }
\`\`\`
`,
  'summarise a text': `## Sum it up
Say in three sentences what whoever decides must know: what is wanted, what speaks for it and against it, and what is still
open. No opinion of your own.
\`\`\`step
draft: text
about: { text: "\${case.text}" }
max-words: 80
save: summary
on: { too-little: hand over }
\`\`\`
`,
  'sort by kinds': `## What is it about?
Say which of these the request is about. When it is about several, take the one that has to be settled first; "other" when it
is none of them.
\`\`\`step
assess: case
answer: { topic: "one of [question, fault, other]" }
unsure-below: 0.6
save: seen
go: { unsure: hand over }
\`\`\`
`,
  'read values out': `## Read it out
Take these values from the request as they stand there. What isn't there is an empty text; nothing is guessed or worked out.
\`\`\`step
assess: case
answer: { reference: text, day: text }
save: found
on: { too-little: hand over }
\`\`\`
`,
  'translate a text': `## Translate it
Say the same in this language: every name, number and date as it is, in the tone of the original, and nothing added.
\`\`\`step
draft: text
about: { text: "\${case.text}" }
language: de
max-words: 300
save: translation
on: { too-little: hand over }
\`\`\`
`,
};

/** A page with one more step, before the end it already has if that is the last step, otherwise behind everything. */
export function withStep(page: string, step: string): string {
  const end = page.lastIndexOf('\n## ');
  const ends = end >= 0 && /```step\n(finish|hand-over):/.test(page.slice(end));
  const at = ends ? end + 1 : page.length;
  const before = page.slice(0, at).trimEnd();
  return before + '\n\n' + step + (ends ? '\n' + page.slice(at) : '');
}
