import createClient, { type Middleware } from 'openapi-fetch';
import type { components, paths } from './schema';

type Schemas = components['schemas'];
export type Session = Schemas['Session'];
export type Today = Schemas['Today'];
export type CaseSummary = Schemas['CaseSummary'];
export type CaseDetail = Schemas['CaseDetail'];
export type Note = Schemas['Note'];
export type Mark = Schemas['Mark'];
export type Lanes = Schemas['Lanes'];
export type LookBack = Schemas['LookBack'];
export type TryOpen = NonNullable<Schemas['Try']['open']>;
export type PublishWish = Schemas['PublishWish'];
export type LimitPoint = Schemas['LimitPoint'];
export type AgreementSheet = Schemas['AgreementSheets']['tools'][number];
export type PlayedRehearsal = Schemas['PlayedRehearsal'];
export type Untouched = Schemas['Untouched'];
export type Run = Schemas['Run'];
export type ApprovalSummary = Schemas['ApprovalSummary'];
export type ApprovalSheet = Schemas['ApprovalSheet'];
export type PlanLine = Schemas['PlanLine'];
export type ToConfirm = Schemas['ToConfirm'];
export type MyCase = Schemas['MyCase'];
export type ReadDocument = Schemas['ReadDocument'];
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
export type CouldDo = Schemas['CouldDo'];
export type CouldDoRow = CouldDo['rows'][number];
export type AgentSummary = Schemas['AgentSummary'];
export type Agent = Schemas['Agent'];
export type Steering = Schemas['Steering'];
export type AnswerReading = Schemas['AnswerReading'];
export type Seen = Schemas['Seen'];
export type ModelSaid = Schemas['ModelSaid'];
export type StepWanted = Schemas['StepWanted'];
export type Told = Schemas['Told'];
export type StepTried = Schemas['StepTried'];
export type Said = Answered<'/api/mandates/try'>;
export type Tried = Answered<'/api/tools/{name}/try'>;
export type Offered = Schemas['Offered'];
export type Event = Schemas['Event'];
export type EventPayload = Schemas['EventPayload'];
export type Taken = Schemas['Taken'];
export type Connection = Schemas['Connection'];
export type Stop = Schemas['Stop'];
export type ToolProposal = Schemas['ToolProposal'];
export type ToolView = Schemas['ToolView'];

/** What the service refused, in its own words. */
export class ApiError extends Error {
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

const guard: Middleware = {
  onRequest({ request }) {
    const token = cookie('XSRF-TOKEN');
    if (token) {
      request.headers.set('X-XSRF-TOKEN', decodeURIComponent(token));
    }
    return request;
  },
};

/** Asks the service as its published description says; the types are made from that. */
const http = createClient<paths>({ baseUrl: location.origin, fetch: (request) => fetch(request) });
http.use(guard);

/** What a POST to a path is answered with. */
type Answered<Path extends '/api/mandates/try' | '/api/tools/{name}/try'> =
  paths[Path]['post']['responses'][200]['content']['application/json'];

/** What a list can be asked for. */
type Query<Path extends '/api/cases' | '/api/runs' | '/api/approvals'> = NonNullable<paths[Path]['get']['parameters']['query']>;

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** What was answered, or a {@link ApiError} that says why not. */
async function of<T>(asked: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await asked;
  } catch {
    throw new ApiError(0, 'No connection', 'The service can’t be reached. What you see may be old.');
  }
  if (!answer.response.ok) {
    const problem = (answer.error ?? {}) as { title?: string; detail?: string; errors?: string[] };
    const { status } = answer.response;
    throw new ApiError(status, problem.title ?? 'Error ' + status, problem.detail ?? '', problem.errors ?? []);
  }
  return answer.data as T;
}

async function base64(file: File): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let binary = '';
  for (let i = 0; i < bytes.length; i += 0x8000) {
    binary += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  }
  return btoa(binary);
}

const inBody = async (file: File) => ({
  name: file.name,
  type: file.type || 'application/octet-stream',
  content: await base64(file),
});

/** What a link that was mailed opens. */
const linked = (link: string) => ({ params: { header: { 'Form-Link': link } } });

const id = (of: string) => ({ path: { id: of } });

/** The service's API, as the console uses it. */
export const api = {
  models: () => of(http.GET('/api/models')),
  tryModel: (name: string) => of(http.POST('/api/models/{name}/try', { params: { path: { name } }, body: {} })),
  agents: () => of(http.GET('/api/agents')),
  agent: (name: string, draft = false) => of(http.GET('/api/agents/{name}', { params: { path: { name }, query: { draft } } })),
  agentPrompt: (name: string, body: StepWanted) => of(http.POST('/api/agents/{name}/prompt', { params: { path: { name } }, body })),
  tryStep: (name: string, body: StepWanted) => of(http.POST('/api/agents/{name}/try', { params: { path: { name } }, body })),
  couldDo: () => of(http.GET('/api/mandates/table')),
  tryMandate: (body: { agent: string; tool: string; caseId: string; args: unknown }) =>
    of(http.POST('/api/mandates/try', { body: body as never })),
  connections: () => of(http.GET('/api/connections')),
  testConnection: (name: string) => of(http.POST('/api/connections/{name}/test', { params: { path: { name } } })),
  beginSignIn: (name: string) => of(http.POST('/api/connections/{name}/sign-in', { params: { path: { name } } })),
  finishSignIn: (body: { state: string; code?: string; iss?: string; error?: string }) =>
    of(http.POST('/api/connections/sign-ins', { body })),
  tools: () => of(http.GET('/api/tools')),
  tryTool: (name: string, args: unknown) => of(http.POST('/api/tools/{name}/try', { params: { path: { name } }, body: args as never })),
  proposeTools: (body: { name: string; connection: string; openapi?: string; only: string[] }) =>
    of(http.POST('/api/tools/proposal', { body })),
  session: () => of(http.GET('/api/session')),
  signIn: (person: string, password: string) => of(http.POST('/api/session', { body: { person, password } })),
  signOut: () => of(http.DELETE('/api/session')),
  today: () => of(http.GET('/api/today')),
  stop: (what: Stop['what'], name: string, reason: string) => of(http.POST('/api/stops', { body: { what, name, reason } })),
  liftStop: (what: Stop['what'], name: string, reason: string) =>
    of(http.POST('/api/stops/{what}/{name}/lift', { params: { path: { what, name } }, body: { reason } })),
  cases: (query: Query<'/api/cases'>) => of(http.GET('/api/cases', { params: { query } })),
  intakes: () => of(http.GET('/api/intake')),
  leftOut: (name: string) => of(http.GET('/api/intake/{name}/left-out', { params: { path: { name } } })),
  events: (name: string) => of(http.GET('/api/intake/{name}/events', { params: { path: { name } } })),
  event: (name: string, event: string) => of(http.GET('/api/intake/{name}/events/{event}', { params: { path: { name, event } } })),
  sendMessage: (name: string, message: unknown, dry: boolean) =>
    of(http.POST('/api/intake/{name}', { params: { path: { name }, query: { try: dry } }, body: message as never })),
  takeIn: (name: string, mail: string, requester: string) =>
    of(http.POST('/api/intake/{name}/left-out/{mail}', { params: { path: { name, mail } }, body: { requester } })),
  mailboxes: () => of(http.GET('/api/mailboxes')),
  own: (which: string, owner: string) => of(http.PUT('/api/cases/{id}/owner', { params: { path: { id: which } }, body: { owner } })),
  namePerson: (which: string, person: string) =>
    of(http.PUT('/api/cases/{id}/people/{person}', { params: { path: { id: which, person } } })),
  unnamePerson: (which: string, person: string) =>
    of(http.DELETE('/api/cases/{id}/people/{person}', { params: { path: { id: which, person } } })),
  mails: (which: string) => of(http.GET('/api/cases/{id}/mails', { params: id(which) })),
  case: (which: string) => of(http.GET('/api/cases/{id}', { params: id(which) })),
  lanes: (which: string) => of(http.GET('/api/cases/{id}/lanes', { params: id(which) })),
  material: (seq: number) => of(http.GET('/api/trail/{seq}/material', { params: { path: { seq } } })),
  openCase: (body: Schemas['OpenCase'], key: string) =>
    of(http.POST('/api/cases', { body, params: { header: { 'Idempotency-Key': key } } })),
  reading: (which: string, document: string) =>
    of(http.GET('/api/cases/{id}/documents/{document}/reading', { params: { path: { id: which, document } } })),
  withdraw: (which: string) => of(http.POST('/api/cases/{id}/withdrawal', { params: id(which), body: {} })),
  resolve: (which: string, how: string) => of(http.POST('/api/cases/{id}/resolution', { params: id(which), body: { how } })),
  note: (which: string, text: string, staff: boolean) =>
    of(http.POST('/api/cases/{id}/notes', { params: id(which), body: { text, staff } })),
  approvals: (query: Query<'/api/approvals'>) => of(http.GET('/api/approvals', { params: { query } })),
  runs: (query: Query<'/api/runs'>) => of(http.GET('/api/runs', { params: { query } })),
  hand: (which: string, body: { to: string; reason: string }) => of(http.POST('/api/approvals/{id}/hand', { params: id(which), body })),
  deputy: (person: string) => of(http.GET('/api/people/{id}/deputy', { params: id(person) })),
  setDeputy: (person: string, body: { deputy: string; since?: string; until: string }) =>
    of(http.PUT('/api/people/{id}/deputy', { params: id(person), body })),
  endDeputy: (person: string) => of(http.DELETE('/api/people/{id}/deputy', { params: id(person) })),
  answerTogether: (body: { decision: 'approve' | 'decline'; reason: string; approvals: { id: string; digest: string }[] }) =>
    of(http.POST('/api/approvals/together', { body })),
  whoSaw: (which: string) => of(http.GET('/api/approvals/{id}/seen', { params: id(which) })),
  approvalAsSeen: (which: string, picture: string) =>
    of(http.GET('/api/approvals/{id}/seen/{picture}', { params: { path: { id: which, picture } } })),
  approval: (which: string) => of(http.GET('/api/approvals/{id}', { params: id(which) })),
  answer: (
    which: string,
    body: {
      decision: 'approve' | 'decline' | 'feedback';
      digest: string;
      reason: string;
      texts?: Record<string, string>;
      form?: Record<string, unknown>;
    },
  ) => of(http.POST('/api/approvals/{id}/answers', { params: id(which), body: body as never })),
  sendLate: (which: string, digest: string, texts?: Record<string, string>) =>
    of(http.POST('/api/approvals/{id}/late', { params: id(which), body: { digest, texts } })),
  attach: async (which: string, file: File) => of(http.POST('/api/cases/{id}/documents', { params: id(which), body: await inBody(file) })),
  moveRun: (which: string, edition: number) => of(http.POST('/api/runs/{id}/edition', { params: id(which), body: { edition } })),
  settleRun: (which: string, body: { happened: boolean; result?: unknown; reason: string }) =>
    of(http.POST('/api/runs/{id}/settlement', { params: id(which), body: body as never })),
  doneByHand: (which: string, body: { did: 'done' | 'nothing'; inputs?: Record<string, unknown>; result?: unknown; reason: string }) =>
    of(http.POST('/api/runs/{id}/by-hand', { params: id(which), body: body as never })),
  agreement: (days: number) => of(http.GET('/api/agreement', { params: { query: { days } } })),
  trust: (body: { agent?: string; tool?: string; works: 'alone' | 'supervised' | 'shadow' }) =>
    of(http.POST('/api/handbook/draft/works', { body })),
  pauseRun: (which: string, reason: string) => of(http.POST('/api/runs/{id}/pause', { params: id(which), body: { reason } })),
  resumeRun: (which: string) => of(http.POST('/api/runs/{id}/resume', { params: id(which) })),
  readAnswer: (which: string, text: string) => of(http.POST('/api/approvals/{id}/reading', { params: id(which), body: { text } })),
  readSteering: (which: string, text: string) => of(http.POST('/api/runs/{id}/reading', { params: id(which), body: { text } })),
  adviseRun: (which: string, text: string) => of(http.POST('/api/runs/{id}/notes', { params: id(which), body: { text } })),
  mendRun: (which: string, trouble: string, body: { does: 'retry' | 'skip' | 'take-over'; reason: string; result?: unknown }) =>
    of(http.POST('/api/runs/{id}/troubles/{trouble}', { params: { path: { id: which, trouble } }, body: body as never })),
  stopRun: (which: string, reason: string) => of(http.POST('/api/runs/{id}/stop', { params: id(which), body: { reason } })),
  draft: () => of(http.GET('/api/handbook/draft')),
  draftFile: (path: string) => of(http.GET('/api/handbook/draft/file', { params: { query: { path } } })),
  putDraft: (path: string, text: string | null) =>
    of(http.PUT('/api/handbook/draft/file', { params: { query: { path } }, body: { text } })),
  dropDraft: (path: string) => of(http.DELETE('/api/handbook/draft/file', { params: { query: { path } } })),
  keepDraft: (path: string) => of(http.POST('/api/handbook/draft/file/keep', { params: { query: { path } } })),
  assess: (path: string) => of(http.GET('/api/handbook/draft/assessment', { params: { query: { path } } })),
  draftChanges: () => of(http.GET('/api/handbook/draft/changes')),
  publishDraft: (note: string, despite: string) => of(http.POST('/api/handbook/draft/publish', { body: { note, despite } })),
  beginLookBack: (body: { edition?: number; days: number; page?: string; askModels?: number }) =>
    of(http.POST('/api/handbook/look-back', { body })),
  lookBack: () => of(http.GET('/api/handbook/look-back')),
  stopLookBack: () => of(http.POST('/api/handbook/look-back/stop')),
  resumeLookBack: () => of(http.POST('/api/handbook/look-back/resume')),
  lookBackCase: (which: string) => of(http.GET('/api/handbook/look-back/cases/{id}', { params: id(which) })),
  tryLimits: (body: { agent?: string; grant?: string; page?: string; step?: string; limits: number[]; days: number }) =>
    of(http.POST('/api/mandates/limits', { body })),
  rehearsalOf: (which: string) => of(http.GET('/api/cases/{id}/rehearsal', { params: id(which) })),
  publishWishes: () => of(http.GET('/api/handbook/consents')),
  publishWish: (digest: string) => of(http.GET('/api/handbook/consents/{id}', { params: id(digest) })),
  answerWish: (digest: string, declined: boolean, reason?: string) =>
    of(http.POST('/api/handbook/consents', { body: { digest, declined, reason } })),
  untouchedDrawing: (page: string) => of(http.GET('/api/handbook/draft/pages/{name}/untouched', { params: { path: { name: page } } })),
  tries: () => of(http.GET('/api/handbook/draft/tries')),
  beginTry: (body: { rehearsal?: string; caseId?: string; request?: Record<string, unknown> }) =>
    of(http.POST('/api/handbook/draft/tries', { body })),
  tryOut: (which: string) => of(http.GET('/api/handbook/draft/tries/{id}', { params: id(which) })),
  answerTry: (which: string, answer?: Record<string, unknown>) =>
    of(http.POST('/api/handbook/draft/tries/{id}/answers', { params: id(which), body: { answer } })),
  askTryForReal: (which: string) => of(http.POST('/api/handbook/draft/tries/{id}/for-real', { params: id(which) })),
  takeTryBack: (which: string) => of(http.POST('/api/handbook/draft/tries/{id}/back', { params: id(which) })),
  keepTry: (which: string, name: string) =>
    of(http.POST('/api/handbook/draft/tries/{id}/rehearsal', { params: id(which), body: { name } })),
  giveUpTry: (which: string) => of(http.DELETE('/api/handbook/draft/tries/{id}', { params: id(which) })),
  rehearsals: () => of(http.GET('/api/handbook/draft/rehearsals')),
  rehearsal: (name: string) => of(http.GET('/api/handbook/draft/rehearsals/{name}', { params: { path: { name } } })),
  choices: (entry: string, names: Record<string, string>) =>
    of(http.POST('/api/handbook/catalogue/{entry}/choices', { params: { path: { entry } }, body: { names } })),
  catalogue: () => of(http.GET('/api/handbook/catalogue')),
  startFrom: (entry: string, names: Record<string, string>) => of(http.POST('/api/handbook/draft/start', { body: { entry, names } })),
  editions: () => of(http.GET('/api/handbook/editions')),
  compareEditions: (older: number, newer: number) =>
    of(http.GET('/api/handbook/editions/{number}/changes-to/{other}', { params: { path: { number: older, other: newer } } })),
  restoreEdition: (number: number) =>
    of(http.POST('/api/handbook/editions/{number}/restore', { params: { path: { number } }, body: { note: '' } })),
  forms: () => of(http.GET('/api/forms')),
  publicForm: (kind: string) => of(http.GET('/api/public/forms/{kind}', { params: { path: { kind } } })),
  fillForm: (kind: string, body: { name: string; address: string; subject: string; text: string; fields: Record<string, unknown> }) =>
    of(http.POST('/api/public/forms/{kind}', { params: { path: { kind } }, body })),
  toConfirm: (link: string) => of(http.GET('/api/public/confirmation', linked(link))),
  confirmForm: (link: string) => of(http.POST('/api/public/confirmation', linked(link))),
  askedByMail: (link: string) => of(http.GET('/api/public/approval', linked(link))),
  answerByLink: (link: string, body: { decision: 'approve' | 'decline' | 'feedback'; reason: string }) =>
    of(http.POST('/api/public/approval/answers', { ...linked(link), body })),
  myCase: (link: string) => of(http.GET('/api/public/case', linked(link))),
  answerMyCase: (link: string, text: string) => of(http.POST('/api/public/case/notes', { ...linked(link), body: { text } })),
  attachToMyCase: async (link: string, file: File) =>
    of(http.POST('/api/public/case/documents', { ...linked(link), body: await inBody(file) })),
  withdrawMyCase: (link: string) => of(http.POST('/api/public/case/withdrawal', linked(link))),
  kinds: () => of(http.GET('/api/handbook/kinds')),
};
