import type { Assessment } from '../api/client';

type Outline = Assessment['outline'] | undefined;

interface Beginning {
  folder: string;
  ending: string;
  text: (name: string, outline: Outline) => string;
}

const first = (names: string[] | undefined, otherwise: string): string => names?.[0] ?? otherwise;

/** What a new file of each sort begins with. */
export const BEGINNINGS: Record<string, Beginning> = {
  page: {
    folder: 'runbooks',
    ending: '.md',
    text: (name, outline) => `---
title: ${name.replaceAll('-', ' ')}
desk: ${first(outline?.desks, 'service')}
agent: ${first(outline?.agents, 'clerk')}
---
Say here what this page is for, as you would tell a new colleague.

## Give it to people
\`\`\`step
hand-over: ${first(outline?.desks, 'service')}
why: This page has only begun.
\`\`\`
`,
  },
  agent: {
    folder: 'agents',
    ending: '.yaml',
    text: (name, outline) => `title: ${name}
desk: ${first(outline?.desks, 'service')}
model: writer
works: supervised
brief:
  job: What the agent is there for, in a sentence or two.
  audience: Who reads what it writes.
  rules: []
  examples: []
`,
  },
  mandate: {
    folder: 'mandates',
    ending: '.yaml',
    text: (name, outline) => `title: ${name}
for: [${first(outline?.agents, 'clerk')}]
ask: ${first(outline?.groups, 'team-leads')}
grants:
  - name: answers to the requester
    tools: [case.reply]
    verdict: allow
`,
  },
  kind: {
    folder: 'kinds',
    ending: '.yaml',
    text: (name, outline) => `title: ${name.replaceAll('-', ' ')}
desk: ${first(outline?.desks, 'service')}
fields: {}
`,
  },
  intake: {
    folder: 'intake',
    ending: '.yaml',
    text: (name, outline) => `title: ${name.replaceAll('-', ' ')}
from: webhook
kind: ${first(outline?.kinds, 'request')}
message:
  id: text
  subject: text
once-per: "\${message.id}"
subject: "\${message.subject}"
fields: {}
`,
  },
};
