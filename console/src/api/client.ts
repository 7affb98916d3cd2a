import type { components } from './schema';

type Schemas = components['schemas'];
export type Session = Schemas['Session'];
export type Today = Schemas['Today'];
export type CaseSummary = Schemas['CaseSummary'];
export type CaseDetail = Schemas['CaseDetail'];
export type Note = Schemas['Note'];
export type Mark = Schemas['Mark'];
export type Lanes = Schemas['Lanes'];
export type Run = Schemas['Run'];
export type ApprovalSummary = Schemas['ApprovalSummary'];
export type ApprovalSheet = Schemas['ApprovalSheet'];
export type Kind = Schemas['Kind'];
export type Actor = Schemas['Actor'];
export type CaseDocument = Schemas['Document'];
export type Draft = Schemas['Draft'];
export type Assessment = Schemas['Assessment'];
export type Finding = Schemas['Finding'];
export type Comparison = Schemas['Comparison'];
export type Edition = Schemas['Edition'];
export type StartingPoint = Schemas['StartingPoint'];
export type PageInWords = Schemas['PageInWords'];
export type CouldDo = Omit<Schemas['CouldDo'], 'rows'> & { rows: CouldDoRow[] };
export type Connection = Schemas['Connection'];
export type Stop = Schemas['Stop'];
export type ToolProposal = Schemas['ToolProposal'];
export type ToolView = Schemas['ToolView'];

/** One agent and one tool, with what the agent's mandates say, in their order. */
export interface CouldDoRow {
  agent: string;
  tool: string;
  effect: string;
  reach: 'alone' | 'asks' | 'never';
  supervised: boolean;
  words: string;
  lines: {
    mandate: string;
    grant: string;
    verdict: 'allow' | 'ask' | 'deny';
    when: string;
    of: string[];
    limits: { words: string; atMost: number; used: number | null }[];
    beyond: string;
  }[];
}

export interface Said {
  verdict: 'allow' | 'ask' | 'deny';
  reason: string;
  grant: string;
  of: string[];
  limits: string[];
}

export interface Tried {
  problem: string;
  detail: string;
  answer: unknown;
  /** What was said, when it took a dialogue; else empty. */
  transcript: string;
}

/** What the service refused, in its own words. */
export class Trouble extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    readonly errors: string[] = [],
  ) {
    super(detail || title);
  }
}

function cookie(name: string): string | undefined {
  return document.cookie
    .split('; ')
    .find((part) => part.startsWith(name + '='))
    ?.slice(name.length + 1);
}

async function send<T>(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<T> {
  const token = cookie('XSRF-TOKEN');
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      headers: {
        Accept: 'application/json',
        ...(body === undefined ? {} : { 'Content-Type': 'application/json' }),
        ...(token ? { 'X-XSRF-TOKEN': decodeURIComponent(token) } : {}),
        ...headers,
      },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
  } catch {
    throw new Trouble(0, 'No connection', 'The service can’t be reached. What you see may be old.');
  }
  const answer = await response.json().catch(() => ({}));
  if (!response.ok) {
    throw new Trouble(response.status, answer.title ?? 'Error ' + response.status, answer.detail ?? '', answer.errors ?? []);
  }
  return answer as T;
}

async function base64(file: File): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let binary = '';
  for (let i = 0; i < bytes.length; i += 0x8000) {
    binary += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  }
  return btoa(binary);
}

const part = encodeURIComponent;

/** The service's API, as the console uses it. */
export const api = {
  couldDo: () => send<CouldDo>('GET', '/api/mandates/table'),
  tryMandate: (thought: { agent: string; tool: string; caseId: string; args: unknown }) => send<Said>('POST', '/api/mandates/try', thought),
  connections: () => send<Connection[]>('GET', '/api/connections'),
  testConnection: (name: string) =>
    send<{ reached: boolean; detail: string }>('POST', `/api/connections/${encodeURIComponent(name)}/test`, {}),
  tools: () => send<ToolView[]>('GET', '/api/tools'),
  tryTool: (name: string, args: unknown) => send<Tried>('POST', `/api/tools/${encodeURIComponent(name)}/try`, args),
  proposeTools: (source: { name: string; connection: string; openapi?: string; only: string[] }) =>
    send<ToolProposal>('POST', '/api/tools/proposal', source),
  session: () => send<Session>('GET', '/api/session'),
  signIn: (person: string, password: string) => send<Session>('POST', '/api/session', { person, password }),
  signOut: () => send<Session>('DELETE', '/api/session'),
  today: () => send<Today>('GET', '/api/today'),
  stop: (what: Stop['what'], name: string, reason: string) => send<Stop>('POST', '/api/stops', { what, name, reason }),
  liftStop: (what: Stop['what'], name: string, reason: string) =>
    send<Stop[]>('POST', `/api/stops/${part(what)}/${part(name)}/lift`, { reason }),
  cases: (query: Record<string, string>) =>
    send<{ items: CaseSummary[]; next?: string | null }>('GET', '/api/cases?' + new URLSearchParams(query)),
  case: (id: string) => send<CaseDetail>('GET', `/api/cases/${part(id)}`),
  lanes: (id: string) => send<Lanes>('GET', `/api/cases/${part(id)}/lanes`),
  material: (seq: number) => send<{ seq: number; digest: string; text: string }>('GET', `/api/trail/${seq}/material`),
  openCase: (body: Schemas['OpenCase'], key: string) => send<CaseDetail>('POST', '/api/cases', body, { 'Idempotency-Key': key }),
  resolve: (id: string, how: string) => send<CaseDetail>('POST', `/api/cases/${part(id)}/resolution`, { how }),
  note: (id: string, text: string, staff: boolean) => send<Note>('POST', `/api/cases/${part(id)}/notes`, { text, staff }),
  approvals: (query: Record<string, string>) =>
    send<{ items: ApprovalSummary[]; next?: string | null }>('GET', '/api/approvals?' + new URLSearchParams(query)),
  approval: (id: string) => send<ApprovalSheet>('GET', `/api/approvals/${part(id)}`),
  answer: (
    id: string,
    body: {
      decision: 'approve' | 'decline' | 'feedback';
      digest: string;
      reason: string;
      texts?: Record<string, string>;
      form?: Record<string, unknown>;
    },
  ) => send<ApprovalSheet>('POST', `/api/approvals/${part(id)}/answers`, body),
  sendLate: (id: string, digest: string, texts?: Record<string, string>) =>
    send<ApprovalSheet>('POST', `/api/approvals/${part(id)}/late`, { digest, texts }),
  attach: async (id: string, file: File) =>
    send<CaseDocument>('POST', `/api/cases/${part(id)}/documents`, {
      name: file.name,
      type: file.type || 'application/octet-stream',
      content: await base64(file),
    }),
  moveRun: (id: string, edition: number) => send<Run>('POST', `/api/runs/${part(id)}/edition`, { edition }),
  settleRun: (id: string, body: { happened: boolean; result?: unknown; reason: string }) =>
    send<Run>('POST', `/api/runs/${part(id)}/settlement`, body),
  pauseRun: (id: string, reason: string) => send<Run>('POST', `/api/runs/${part(id)}/pause`, { reason }),
  resumeRun: (id: string) => send<Run>('POST', `/api/runs/${part(id)}/resume`, {}),
  adviseRun: (id: string, text: string) => send<Run>('POST', `/api/runs/${part(id)}/notes`, { text }),
  mendRun: (id: string, trouble: string, body: { does: 'retry' | 'skip' | 'take-over'; reason: string; result?: unknown }) =>
    send<Run>('POST', `/api/runs/${part(id)}/wrong/${part(trouble)}`, body),
  stopRun: (id: string, reason: string) => send<Run>('POST', `/api/runs/${part(id)}/stop`, { reason }),
  draft: () => send<Draft>('GET', '/api/handbook/draft'),
  draftFile: (path: string) =>
    send<{ path: string; text: string; published?: string | null }>('GET', `/api/handbook/draft/file?path=${part(path)}`),
  putDraft: (path: string, text: string | null) => send<Assessment>('PUT', `/api/handbook/draft/file?path=${part(path)}`, { text }),
  dropDraft: (path: string) => send<Assessment>('DELETE', `/api/handbook/draft/file?path=${part(path)}`),
  keepDraft: (path: string) => send<Draft>('POST', `/api/handbook/draft/file/keep?path=${part(path)}`),
  assess: (path: string) => send<Assessment>('GET', `/api/handbook/draft/assessment?path=${part(path)}`),
  draftChanges: () => send<Comparison>('GET', '/api/handbook/draft/changes'),
  publishDraft: (note: string) => send<{ edition: Edition; isNew: boolean }>('POST', '/api/handbook/draft/publish', { note }),
  catalogue: () => send<StartingPoint[]>('GET', '/api/handbook/catalogue'),
  startFrom: (entry: string, names: Record<string, string>) =>
    send<{ files: string[] }>('POST', '/api/handbook/draft/start', { entry, names }),
  editions: () => send<Edition[]>('GET', '/api/handbook/editions'),
  compareEditions: (older: number, newer: number) => send<Comparison>('GET', `/api/handbook/editions/${older}/changes-to/${newer}`),
  restoreEdition: (number: number) =>
    send<{ edition: Edition; isNew: boolean }>('POST', `/api/handbook/editions/${number}/restore`, { note: '' }),
  kinds: () => send<Kind[]>('GET', '/api/handbook/kinds'),
};
