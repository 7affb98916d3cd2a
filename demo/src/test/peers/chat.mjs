// The official client of the chat-completions format, against the stand-in: what it parses and what it refuses is its own affair.
import OpenAI from 'openai';

const client = new OpenAI({ baseURL: process.env.MODELS, apiKey: 'none', maxRetries: 0 });
const ask = { model: 'stand-in-writer', messages: [{ role: 'user', content: '# Instruction\nSay hello to the harbour.' }] };
const said = {};

const models = await client.models.list();
said.models = models.data.map((model) => model.id);
said.model = (await client.models.retrieve('stand-in-writer')).owned_by;

const whole = await client.chat.completions.create(ask);
said.whole = typeof whole.choices[0].message.content === 'string' && /^chatcmpl-/.test(whole.id) && whole.created > 0;
said.finish = whole.choices[0].finish_reason;
said.counted = whole.usage.total_tokens === whole.usage.prompt_tokens + whole.usage.completion_tokens;

const cut = await client.chat.completions.create({ ...ask, max_completion_tokens: 2 });
said.cut = [cut.choices[0].finish_reason, cut.usage.completion_tokens];

let text = '';
let last;
for await (const part of await client.chat.completions.create({ ...ask, stream: true, stream_options: { include_usage: true } })) {
  text += part.choices[0]?.delta?.content ?? '';
  last = part;
}
said.streamed = text === whole.choices[0].message.content;
said.streamedUsage = last.usage?.total_tokens > 0;

for (const [name, wrong] of [
  ['unknownModel', { ...ask, model: 'nobody' }],
  ['noMessages', { model: 'stand-in-writer' }],
]) {
  try {
    await client.chat.completions.create(wrong);
    said[name] = 'was taken';
  } catch (error) {
    said[name] = [error.status, error.type, error.code ?? null];
  }
}
console.log(JSON.stringify(said));
