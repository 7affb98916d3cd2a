// Types into a long page of the demo's handbook and waits for what checking says, again and again.
import { createRequire } from 'node:module';

const { chromium } = createRequire(process.cwd() + '/package.json')('playwright-core');
const PAGE = 'runbooks/bench-long.md';
const ROUNDS = 15;

const step = (n) => `## Step ${n}\nSay something about number ${n}, as one would to a colleague.\n\`\`\`step\nset: { labels: [n${n}] }\n\`\`\`\n\n`;
const text =
  '---\ntitle: Long\ndesk: passengers\nagent: purser\n---\n' +
  Array.from({ length: 49 }, (_, n) => step(n)).join('') +
  '## Done\n```step\nfinish: resolved\n```\n';

const browser = await chromium.launch({
  executablePath: process.env.SERVITOR_CHROMIUM ?? '/usr/bin/chromium',
  args: ['--headless', '--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
});
const page = await browser.newPage({ baseURL: process.argv[2], viewport: { width: 1280, height: 800 } });
await page.goto('/handbook');
await page.getByLabel('Name').fill('maren');
await page.getByLabel('Password').fill('skerry-demo');
await page.getByRole('button', { name: 'Sign in' }).click();
await page.getByRole('heading', { name: 'Handbook' }).waitFor();
const call = (method, body) =>
  page.evaluate(
    async ([method, path, body]) => {
      const token = decodeURIComponent(document.cookie.split('; ').find((part) => part.startsWith('XSRF-TOKEN='))?.slice(11) ?? '');
      await fetch('/api/handbook/draft/file?path=' + encodeURIComponent(path), {
        method,
        headers: { 'Content-Type': 'application/json', 'X-XSRF-TOKEN': token },
        body: body && JSON.stringify(body),
      });
    },
    [method, PAGE, body],
  );
await call('PUT', { text });
await page.goto('/handbook/' + PAGE.replaceAll('/', '~'));
await page.locator('.cm-content').click();
await page.keyboard.press('Control+Home');
for (let line = 0; line < 9; line++) await page.keyboard.press('ArrowDown');
await page.keyboard.press('End');

const times = [];
for (let round = 0; round < ROUNDS; round++) {
  const start = performance.now();
  await page.keyboard.type('x');
  await page.getByText('can’t be read').or(page.getByText('isn\'t valid YAML')).or(page.locator('.cm-lint-marker-error')).first().waitFor();
  times.push(performance.now() - start);
  await page.keyboard.press('Backspace');
  await page.getByText('Nothing found in this file').or(page.getByText('can be published')).first().waitFor();
}
await call('DELETE');
await browser.close();
times.sort((a, b) => a - b);
console.log(`${text.split('\n').length} lines, ${ROUNDS} key presses`);
console.log(`from key press to findings: median ${times[ROUNDS >> 1].toFixed(0)} ms, worst ${times.at(-1).toFixed(0)} ms (250 ms of it is the pause after the last key)`);
