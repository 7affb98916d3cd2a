// Verifies an export of the trail, written from docs/trail.md alone, with nothing but Node's own library.
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { createInterface } from 'node:readline';

const canonical = (value) => {
  if (Array.isArray(value)) return `[${value.map(canonical).join(',')}]`;
  if (value !== null && typeof value === 'object') {
    return `{${Object.keys(value)
      .sort()
      .map((name) => `${JSON.stringify(name)}:${canonical(value[name])}`)
      .join(',')}}`;
  }
  return JSON.stringify(value);
};
const sha256 = (...parts) => parts.reduce((hash, part) => hash.update(part), createHash('sha256')).digest('hex');

let seq = 0;
let open = false;
let previous = '0'.repeat(64);
for await (const line of createInterface({ input: createReadStream(process.env.TRAIL), crlfDelay: Infinity })) {
  if (!line) continue;
  const entry = JSON.parse(line);
  if (seq === 0 && entry.trail === 1 && entry.closes) {
    open = true;
    continue;
  }
  const fault = (what) => {
    console.log(`entry ${entry.seq}: ${what}`);
    process.exit(1);
  };
  if (entry.end) {
    if (entry.entries !== seq || entry.head !== previous) fault('the end is not that of these entries');
    open = false;
    continue;
  }
  if (entry.seq !== seq + 1) fault('missing or out of order');
  if (entry.previous !== previous) fault('it does not follow the one before');
  const { at, actor, case: about, run, step, what, digest } = entry;
  if (entry.hash !== sha256(canonical({ seq: entry.seq, at, actor, case: about, run, step, what, digest, previous }))) fault('altered');
  if (entry.data !== undefined && digest !== sha256(Buffer.from(entry.salt, 'hex'), canonical(entry.data))) fault('its data was altered');
  seq = entry.seq;
  previous = entry.hash;
}
if (open) {
  console.log(`it ended early, after entry ${seq}`);
  process.exit(1);
}
console.log(`${seq} entries hold; the last is ${previous}`);
