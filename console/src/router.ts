import { createRouter } from 'sv-router';
import Today from './today/today.svelte';
import Cases from './cases/cases.svelte';
import Case from './cases/case.svelte';
import Approvals from './approvals/approvals.svelte';
import Sheet from './approvals/sheet.svelte';
import Ask from './ask/ask.svelte';
import Nowhere from './shell/nowhere.svelte';

export const { p, navigate, isActive, route } = createRouter({
  '/': Today,
  '/today': Today,
  '/cases': Cases,
  '/cases/:id': Case,
  '/cases/:id/documents/:document': () => import('./documents/document.svelte'),
  '/runs': () => import('./runs/runs.svelte'),
  '/approvals': Approvals,
  '/approvals/:id': Sheet,
  '/ask': Ask,
  '/form/confirm': () => import('./form/confirm.svelte'),
  '/form/approval': () => import('./form/approval.svelte'),
  '/form/case': () => import('./form/my-case.svelte'),
  '/form/:kind': () => import('./form/form.svelte'),
  '/intake': () => import('./intake/intake.svelte'),
  '/agents': () => import('./agents/agents.svelte'),
  '/agents/:name': () => import('./agents/agent.svelte'),
  '/agreement': () => import('./agreement/agreement.svelte'),
  '/could-do': () => import('./could-do/could-do.svelte'),
  '/connections': () => import('./connections/connections.svelte'),
  '/connections/sign-in': () => import('./connections/sign-in.svelte'),
  '/handbook': () => import('./handbook/handbook.svelte'),
  '/handbook/changes': () => import('./handbook/changes.svelte'),
  '/handbook/consents/:digest': () => import('./handbook/consent.svelte'),
  '/handbook/editions': () => import('./handbook/editions.svelte'),
  '/handbook/look-back': () => import('./handbook/look-back.svelte'),
  '/handbook/look-back/:id': () => import('./handbook/look-back-case.svelte'),
  '/handbook/rehearsals': () => import('./handbook/rehearsals.svelte'),
  '/handbook/rehearsals/:name': () => import('./handbook/rehearsal.svelte'),
  '/handbook/tries': () => import('./handbook/tries.svelte'),
  '/handbook/tries/:id': () => import('./handbook/try.svelte'),
  '/handbook/start': () => import('./handbook/starting-points.svelte'),
  '/handbook/import': () => import('./handbook/import-tools.svelte'),
  '/handbook/:file': () => import('./handbook/handbook.svelte'),
  '*': Nowhere,
});

/** Goes to one of the console's places by its path. */
export function go(path: string): void {
  (navigate as unknown as (to: string) => void)(path);
}
