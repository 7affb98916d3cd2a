import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { ApprovalSummary } from '../api/client';
import { asked } from './asked.svelte';

const item = (id: string): ApprovalSummary =>
  ({ id, headline: `Pay ${id}`, caseId: 'C-1', requester: { name: 'Ines' } }) as ApprovalSummary;

describe('what waits', () => {
  const told: string[] = [];
  beforeEach(() => {
    const Notice = vi.fn(function (title: string) {
      told.push(title);
    });
    vi.stubGlobal('Notification', Object.assign(Notice, { permission: 'granted', requestPermission: () => Promise.resolve('granted') }));
  });
  afterEach(() => {
    vi.unstubAllGlobals();
    told.length = 0;
  });

  it('is counted in the title', () => {
    asked.take([]);
    expect(asked.titled('Approvals')).toBe('Approvals · Servitor');
    asked.take([item('R-1'), item('R-2')]);
    expect(asked.titled('Approvals')).toBe('(2) Approvals · Servitor');
  });

  it('is told of once, and only where that is wanted', async () => {
    asked.take([item('R-1')]);
    asked.take([item('R-1'), item('R-3')]);
    expect(told).toEqual([]);
    await asked.want(true);
    asked.take([item('R-1'), item('R-3'), item('R-4')]);
    asked.take([item('R-4')]);
    expect(told).toEqual(['Pay R-4']);
    await asked.want(false);
    asked.take([item('R-5')]);
    expect(told).toEqual(['Pay R-4']);
  });
});
