// Opens the queue of somebody for whom very many approvals wait, and beside it the same page with nothing on it.
import { createRequire } from 'node:module';

const { chromium } = createRequire(process.cwd() + '/package.json')('playwright-core');
const ROUNDS = 15;

const browser = await chromium.launch({
  executablePath: process.env.SERVITOR_CHROMIUM ?? '/usr/bin/chromium',
  args: ['--headless', '--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
});
const page = await browser.newPage({ baseURL: process.argv[2], viewport: { width: 1280, height: 800 } });
await page.goto('/approvals');
await page.getByLabel('Name').fill('osei');
await page.getByLabel('Password').fill('skerry-demo');
await page.getByRole('button', { name: 'Sign in' }).click();
await page.locator('[data-item]').first().waitFor();

const until = async (path, shown) => {
  const start = performance.now();
  await page.goto(path);
  await shown().waitFor();
  return performance.now() - start;
};
const full = [];
const empty = [];
for (let round = 0; round < ROUNDS + 3; round++) {
  const one = await until('/approvals', () => page.locator('[data-item]').first());
  const none = await until('/approvals?kind=complaint', () => page.getByText('Nothing that fits waits for your answer.'));
  if (round >= 3) {
    full.push(one);
    empty.push(none);
  }
}
await browser.close();
const median = (times) => times.sort((a, b) => a - b)[times.length >> 1];
const [one, none] = [median(full), median(empty)];
console.log(`from the address to the first of the queue: median ${one.toFixed(0)} ms, worst ${full.at(-1).toFixed(0)} ms`);
console.log(`the same page with nothing on it:           median ${none.toFixed(0)} ms; ratio ${(one / none).toFixed(2)}`);
