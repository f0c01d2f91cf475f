import { chromium } from '@playwright/test';
const b = await chromium.connectOverCDP('http://127.0.0.1:9333');
const ctx = b.contexts()[0] ?? (await b.newContext());
let page = ctx.pages().find((p) => p.url().includes('4999'));
if (!page) { page = await ctx.newPage(); await page.goto('http://127.0.0.1:4999'); }
await page.setViewportSize({ width: 1280, height: 800 });
page.setDefaultTimeout(8000);
page.on('console', (m) => m.type() === 'error' && console.log('CONSOLE', m.text().slice(0, 300)));
page.on('pageerror', (e) => console.log('PAGEERROR', String(e).slice(0, 300)));
const shot = (n) => page.screenshot({ path: `/tmp/walk/${n}.png` });
const text = async (s) => console.log(await page.locator(s).first().innerText());
const AsyncFunction = (async () => {}).constructor;
try { await new AsyncFunction('page', 'shot', 'text', process.argv[2])(page, shot, text); } catch (e) { console.log(String(e).slice(0, 1500)); }
process.exit(0);
