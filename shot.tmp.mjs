import { chromium } from '@playwright/test';
const b = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync'
  ]
});
const p = await b.newPage({ viewport: { width: Number(process.env.W ?? 1280), height: 800 } });
p.on('pageerror', (e) => console.log('ERR', e.message));
p.on('console', (m) => m.type() === 'error' && console.log('CON', m.text()));
const base = 'http://127.0.0.1:4170';
const steps = process.argv[2];
const list = await (await p.request.get(base + '/api/flows')).json();
const flows = list.flows ?? list;
const id = flows.find((f) => f.name === (process.env.FLOW ?? "Lamplighter's Round")).id;
await p.goto(base + (process.env.PATHNAME ?? '/flows/' + id));
if (!process.env.PATHNAME) await p.waitForSelector('.answers:not(.renewing) b', { timeout: 60000 });
const { default: run } = await import(steps);
await run(p);
await b.close();
