import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder } from 'selenium-webdriver';
import { Options, ServiceBuilder } from 'selenium-webdriver/chrome.js';
import { BENCH_SIGN_IN } from './harness';

export interface Scroll {
  /** Share of frames of 34 ms and more. */
  slowShare01: number;
  medianFrameMs: number;
  p95FrameMs: number;
  /** Heap of the page after the first scroll, collected. */
  memoryMb: number;
  /** Heap after the second scroll to that after the first. */
  memoryGrowth: number;
}

/** Scrolls by wheel speed, then in leaps to all ends of the list, and tells how long each frame took. */
const SCROLL = `
  const done = arguments[arguments.length - 1];
  const rows = arguments[0];
  const list = document.querySelector('[role=grid]');
  const frames = [];
  let last = 0, n = 0;
  const step = (now) => {
    if (last) frames.push(now - last);
    last = now;
    n++;
    if (n % 150 === 0) list.scrollTop = ((n * 7919) % 1000) / 1000 * rows * 31;
    else list.scrollTop += n % 300 < 150 ? 120 : 900;
    if (n < 1500) requestAnimationFrame(step);
    else done(frames);
  };
  requestAnimationFrame(step);
`;

export async function scrollThrough(base: string, rows: number): Promise<Scroll> {
  const folder = mkdtempSync(join(tmpdir(), 'gray-loom-scroll-'));
  const options = new Options();
  options.setChromeBinaryPath('/usr/bin/chromium');
  options.addArguments(
    '--headless=new',
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--enable-precise-memory-info',
    '--window-size=1280,800',
    `--user-data-dir=${folder}`,
  );
  const driver = await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new ServiceBuilder('/usr/bin/chromedriver'))
    .build();
  try {
    await driver.manage().setTimeouts({ script: 600_000 });
    await driver.get(`${base}/`);
    await driver.executeAsyncScript(
      `const done = arguments[arguments.length - 1];
       fetch('/api/session', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(arguments[0]) }).then(() => done());`,
      BENCH_SIGN_IN,
    );
    await driver.get(`${base}/contacts`);
    await driver.wait(
      () => driver.executeScript<boolean>(`return document.querySelectorAll('[role=gridcell]').length > 50`),
      30_000,
      'the grid shows no contacts',
    );
    const heap = async () => {
      await driver.sleep(1500);
      await (driver as unknown as { sendDevToolsCommand(name: string): Promise<void> }).sendDevToolsCommand(
        'HeapProfiler.collectGarbage',
      );
      return driver.executeScript<number>('return performance.memory.usedJSHeapSize / 1048576');
    };
    const frames: number[] = [...(await driver.executeAsyncScript<number[]>(SCROLL, rows))];
    const first = await heap();
    frames.push(...(await driver.executeAsyncScript<number[]>(SCROLL, rows)));
    const second = await heap();
    const sorted = [...frames].sort((a, b) => a - b);
    return {
      slowShare01: frames.filter((ms) => ms >= 34).length / frames.length,
      medianFrameMs: sorted[sorted.length >> 1] ?? 0,
      p95FrameMs: sorted[Math.floor(sorted.length * 0.95)] ?? 0,
      memoryMb: first,
      memoryGrowth: second / first,
    };
  } finally {
    await driver.quit();
    rmSync(folder, { recursive: true, force: true });
  }
}
