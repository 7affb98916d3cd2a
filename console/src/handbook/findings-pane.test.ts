import { render, screen } from '@testing-library/svelte';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { Finding } from '../api/client';
import FindingsPane from './findings-pane.svelte';

const finding = (file: string, line: number, severity: 'error' | 'warning' = 'error'): Finding => ({
  severity,
  code: 'unknown-name',
  what: `No tool in ${file}.`,
  remedy: '<b>Name</b> one.',
  place: { file, line, column: 1 },
});

describe('findings', () => {
  it('says that nothing stands in the way when nothing was found', () => {
    render(FindingsPane, { findings: [], path: 'a.md', onGo: vi.fn() });
    expect(screen.getByText(/can be published/)).toBeInTheDocument();
  });

  it('shows those of this file first, and names the file of the others', () => {
    render(FindingsPane, { findings: [finding('b.md', 2), finding('a.md', 9, 'warning')], path: 'a.md', onGo: vi.fn() });
    const [here, elsewhere] = screen.getAllByRole('button');
    expect(here).toHaveTextContent('warning, line 9, unknown-name');
    expect(elsewhere).toHaveTextContent('error, b.md, line 2');
  });

  it('does not promise a publication while another file has one', () => {
    render(FindingsPane, { findings: [finding('b.md', 2)], path: 'a.md', onGo: vi.fn() });
    expect(screen.getByText('Nothing found in this file.')).toBeInTheDocument();
    expect(screen.queryByText(/can be published/)).not.toBeInTheDocument();
  });

  it('goes to the place that is chosen', async () => {
    const onGo = vi.fn();
    render(FindingsPane, { findings: [finding('a.md', 9)], path: 'a.md', onGo });
    await userEvent.click(screen.getByRole('button'));
    expect(onGo.mock.calls[0]![0].place).toEqual({ file: 'a.md', line: 9, column: 1 });
  });

  it('shows the same finding twice, and tags as letters', () => {
    const { container } = render(FindingsPane, { findings: [finding('a.md', 9), finding('a.md', 9)], path: 'a.md', onGo: vi.fn() });
    expect(screen.getAllByRole('button')).toHaveLength(2);
    expect(container.querySelector('b')).toBeNull();
  });
});
