import { render, screen } from '@testing-library/svelte';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import RehearsalForm from './rehearsal-form.svelte';
import { YamlFile } from './yaml-file';

const TEXT = `title: A refund   # mine
case: { kind: refund, fields: { booking: SK-1 } }
answers:
  - tool: fares.find
    gives: { paid: 10 }
  - { people: Pay, by: osei }
must:
  end: resolved
`;

function shown(): ReturnType<typeof vi.fn<(text: string) => void>> {
  const onChange = vi.fn<(text: string) => void>();
  render(RehearsalForm, { file: new YamlFile(TEXT), onChange });
  return onChange;
}

it('shows what a rehearsal says and leaves the rest of the file alone', async () => {
  const onChange = shown();
  expect(screen.getByText('1. A tool answers')).toBeInTheDocument();
  expect(screen.getByText('2. People answer')).toBeInTheDocument();
  const who = screen.getByLabelText('Who');
  expect(who).toHaveValue('osei');
  await userEvent.clear(who);
  await userEvent.type(who, 'lucja');
  await userEvent.tab();
  expect(onChange).toHaveBeenLastCalledWith(TEXT.replace('osei', 'lucja'));
});

it('takes JSON once it can be read', async () => {
  const onChange = shown();
  const gives = screen.getByLabelText('It gives, as JSON');
  await userEvent.clear(gives);
  await userEvent.type(gives, '{{"paid":');
  await userEvent.tab();
  expect(screen.getByText(/isn’t JSON/)).toBeInTheDocument();
  expect(onChange).not.toHaveBeenCalled();
  await userEvent.type(gives, '12}');
  await userEvent.tab();
  expect(new YamlFile(onChange.mock.lastCall![0]).value('answers', 0, 'gives')).toEqual({ paid: 12 });
});

it('has somebody act unasked', async () => {
  const text = TEXT.replace('{ people: Pay, by: osei }', '{ unasked: stop, at: Pay, by: osei, says: enough, after: PT1H }');
  const onChange = vi.fn<(text: string) => void>();
  render(RehearsalForm, { file: new YamlFile(text), onChange });
  expect(screen.getByText('2. Somebody acts unasked')).toBeInTheDocument();
  expect(screen.getByLabelText('What they say')).toHaveValue('enough');
  await userEvent.selectOptions(screen.getByLabelText('They'), 'pause');
  expect(onChange).toHaveBeenLastCalledWith(text.replace('stop', 'pause'));
});

it('has something come with nobody waiting for it', async () => {
  const text = TEXT.replace('{ people: Pay, by: osei }', '{ comes: reply, text: "And it was late.", after: PT1H }');
  const onChange = vi.fn<(text: string) => void>();
  render(RehearsalForm, { file: new YamlFile(text), onChange });
  const unawaited = screen.getByRole('checkbox', { name: /Nobody waits for it/ });
  expect(unawaited).not.toBeChecked();
  await userEvent.click(unawaited);
  expect(new YamlFile(onChange.mock.lastCall![0]).value('answers', 1)).toEqual({
    comes: 'reply',
    text: 'And it was late.',
    after: 'PT1H',
    unawaited: true,
  });
});

it('adds an answer and takes one out', async () => {
  const onChange = shown();
  await userEvent.click(screen.getByRole('button', { name: '+ Something comes' }));
  expect(new YamlFile(onChange.mock.lastCall![0]).text('answers', 2, 'comes')).toBe('reply');
  await userEvent.click(screen.getAllByRole('button', { name: 'take it out' })[0]!);
  expect(new YamlFile(onChange.mock.lastCall![0]).size('answers')).toBe(1);
});
