import { render, screen } from '@testing-library/svelte';
import { describe, expect, it } from 'vitest';
import type { Comparison } from '../api/client';
import ComparisonView from './comparison-view.svelte';

const TEXT = '--- a\n+++ b\n@@ -1 +1 @@\n-over: 50\n+over: 500\n';

function comparison(meanings: string[], files = [{ path: 'mandates/refunds.yaml', change: 'changed', text: TEXT }]): Comparison {
  return { meanings: meanings.map((sentence) => ({ file: 'mandates/refunds.yaml', sentence })), files } as unknown as Comparison;
}

describe('a comparison', () => {
  it('says first what it means', () => {
    render(ComparisonView, { comparison: comparison(['People are asked from 500.00 on, no longer from 50.00.']) });
    expect(screen.getByText(/asked from 500.00/)).toBeInTheDocument();
  });

  it('marks what is gone and what is new', () => {
    const { container } = render(ComparisonView, { comparison: comparison([]) });
    const lines = [...container.querySelectorAll('pre span')];
    expect(lines.find((line) => line.textContent === '-over: 50')).toHaveClass('line-through');
    expect(lines.find((line) => line.textContent === '+over: 500')).toHaveClass('bg-gone');
    expect(lines[0]).not.toHaveClass('line-through');
  });

  it('tells a changed text without a meaning from no difference at all', async () => {
    const { rerender } = render(ComparisonView, { comparison: comparison([]) });
    expect(screen.getByText('Nothing that changes what the handbook does.')).toBeInTheDocument();
    await rerender({ comparison: comparison([], []) });
    expect(screen.getByText('Nothing differs.')).toBeInTheDocument();
  });
});
