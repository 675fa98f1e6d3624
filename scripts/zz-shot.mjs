import { chromium } from 'playwright-core';
const [, , url, out, ...acts] = process.argv;
const b = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
});
const p = await b.newPage({ viewport: { width: 1280, height: 800 } });
p.on('console', (m) => {
  if (m.type() === 'error') console.log('console:', m.text());
});
p.on('pageerror', (e) => console.log('pageerror', e.message));
await p.goto(url);
await p.waitForTimeout(2500);
for (const a of acts) {
  const [k, ...r] = a.split(':');
  const v = r.join(':');
  if (k === 'key') await p.keyboard.press(v);
  if (k === 'click') await p.getByText(v, { exact: false }).first().click();
  if (k === 'wait') await p.waitForTimeout(+v);
  if (k === 'role') {
    const [role, name] = v.split('|');
    await p.getByRole(role, { name }).first().click();
  }
}
await p.screenshot({ path: out });
console.log(p.url());
await b.close();
