import { render, screen } from '@testing-library/svelte';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { ApprovalSheet } from '../api/client';
import { Decision } from './decision.svelte';
import FormFields from './form-fields.svelte';
import AnswerForm from './answer-form.svelte';

function decision(fields: { name: string; type: string; options: string[] }[], left = 0, more: object = {}): Decision {
  const one = new Decision();
  const summary = { id: 'R-1-6', state: 'open', rounds: left };
  one.take({
    summary,
    digest: 'd',
    sheet: { edits: [], form: { fields }, feedback: { left }, ...more },
    answers: [],
  } as unknown as ApprovalSheet);
  return one;
}

describe('the form of an approval', () => {
  it('asks for each field the way it is answered', async () => {
    const of = decision([
      { name: 'cost_centre', type: 'text', options: [] },
      { name: 'kept', type: 'yes/no', options: [] },
      { name: 'berth', type: 'one of', options: ['A', 'B'] },
      { name: 'until', type: 'date', options: [] },
      { name: 'days', type: 'whole number', options: [] },
    ]);
    render(FormFields, { decision: of });
    await userEvent.type(screen.getByLabelText('cost centre'), 'C-7');
    await userEvent.selectOptions(screen.getByLabelText('kept'), 'yes');
    await userEvent.selectOptions(screen.getByLabelText('berth'), 'B');
    expect(screen.getByLabelText('until')).toHaveAttribute('type', 'date');
    expect(screen.getByLabelText('days')).toHaveAttribute('inputmode', 'decimal');
    expect(of.form).toMatchObject({ cost_centre: 'C-7', kept: 'yes', berth: 'B' });
  });
});

describe('the answer to an approval', () => {
  const no = () => undefined;

  it('offers to send back only while a round is left', async () => {
    const text = { edits: [{ key: 'news', text: 'Good day.', written: true }] };
    const { rerender } = render(AnswerForm, { decision: decision([], 0, text), onDecline: no, onSendBack: no });
    expect(screen.queryByRole('button', { name: /Send back/ })).not.toBeInTheDocument();
    await rerender({ decision: decision([], 1, text), onDecline: no, onSendBack: no });
    expect(screen.getByRole('button', { name: /Send back/ })).toBeInTheDocument();
    expect(screen.getByText('once more')).toBeInTheDocument();
  });

  it('takes words for another plan, or for the answer to a question', async () => {
    const plan = { plan: [{ does: 'Look it up.' }], form: undefined };
    const { rerender } = render(AnswerForm, { decision: decision([], 3, plan), onDecline: no, onSendBack: no });
    expect(screen.getByRole('button', { name: /Ask for another plan/ })).toBeInTheDocument();
    await rerender({ decision: decision([], 1), onDecline: no, onSendBack: no });
    expect(screen.getByRole('button', { name: /Answer so/ })).toBeInTheDocument();
    expect(screen.queryByText('once more')).not.toBeInTheDocument();
  });

  it('declines only with words', async () => {
    const of = decision([]);
    let declined = 0;
    of.wording = 'decline';
    render(AnswerForm, { decision: of, onDecline: () => declined++, onSendBack: no });
    expect(screen.getByRole('button', { name: 'Decline' })).toBeDisabled();
    await userEvent.type(screen.getByRole('textbox'), 'Not this one.');
    await userEvent.click(screen.getByRole('button', { name: 'Decline' }));
    expect(declined).toBe(1);
    expect(of.reason).toBe('Not this one.');
  });
});
