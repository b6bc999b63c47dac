import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { Builder, By, Key, type WebDriver, type WebElement } from 'selenium-webdriver';
import { Options, ServiceBuilder } from 'selenium-webdriver/chrome.js';
import { freePort, openCluster, removeData } from '../scripts/postgres';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();
/** How long something may take to appear: a machine that is busy with something else takes its time. */
export const PATIENCE_MS = 90_000;
/** The narrowest window that every page is made for. */
const LEAST_WIDTH = 1024;

/** An app started by ./start on its own port and data, and a browser in front of it. */
export interface Stage {
  driver: WebDriver;
  base: string;
  data: string;
  end(): Promise<void>;
}

const FIRST = { email: 'ines@quillhaven.example', password: 'a good password' };

/** Makes the first account of an empty workspace, as its page would. */
async function makeFirst(base: string, data: string): Promise<void> {
  const answer = await fetch(`${base}/api/first-account`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ ...FIRST, name: 'Ines Carvalho' }),
  });
  if (!answer.ok) throw new Error(`the first account was not made: ${await answer.text()}`);
  writeFileSync(join(data, 'sign-in.json'), JSON.stringify(FIRST));
}

/** `demo` fills it with the school’s demo data; without that it is empty, and `untouched` leaves it without an account. */
export async function openStage({ demo = false, untouched = false } = {}): Promise<Stage> {
  const data = mkdtempSync(join(tmpdir(), 'gray-loom-browser-'));
  const port = await freePort();
  const env = { ...process.env, NODE_OPTIONS: '', GRAY_LOOM_ROOT: ROOT, DATABASE_URL: '' };
  const start = (...args: string[]) =>
    spawnSync(process.execPath, [join(ROOT, '.build/start.js'), '--data', data, ...args], {
      cwd: ROOT,
      env,
      encoding: 'utf8',
    });
  const started = start('--port', String(port), ...(demo ? [] : ['--empty']), '--background');
  if (started.status !== 0) throw new Error(`./start failed: ${started.stderr}`);
  const base = `http://127.0.0.1:${port}`;
  if (!demo && !untouched) await makeFirst(base, data);
  const driver = await openBrowser(join(data, 'browser'));
  return {
    driver,
    base,
    data,
    end: async () => {
      await driver.quit();
      start('--stop');
      removeData(data);
    },
  };
}

/** A browser of its own, with nobody signed in. */
export async function openBrowser(profile: string): Promise<WebDriver> {
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
    '--window-size=1280,900',
    `--user-data-dir=${profile}`,
  );
  return new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new ServiceBuilder('/usr/bin/chromedriver'))
    .build();
}

export function signInOf(data: string): { email: string; password: string } {
  return JSON.parse(readFileSync(join(data, 'sign-in.json'), 'utf8')) as { email: string; password: string };
}

/** An account beside the administrator's, with the same password. */
export async function addAccount(
  data: string,
  email: string,
  name: string,
  role: 'administrator' | 'editor' | 'viewer' = 'administrator',
): Promise<void> {
  const { url } = await openCluster(data);
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    await client.query(
      `insert into account (email, name, role, password_hash) select $1, $2, $3, password_hash from account order by id limit 1`,
      [email, name, role],
    );
  } finally {
    await client.end();
  }
}

/** Waits for something by what a person sees: the text or the name of a button, link, box. */
export class Screen {
  constructor(private readonly driver: WebDriver) {}

  async find(xpath: string, what: string): Promise<WebElement> {
    try {
      // What was drawn anew between the two questions is looked for again.
      const found = await this.driver.wait(async () => {
        const [first] = await this.driver.findElements(By.xpath(xpath));
        return first && (await first.isDisplayed().catch(() => false)) ? first : null;
      }, PATIENCE_MS);
      if (found) return found;
      throw new Error(what);
    } catch {
      const seen = await this.driver.findElement(By.css('body')).getText();
      throw new Error(`${what} is not on screen. On screen: ${seen.slice(0, 1500)}`);
    }
  }

  text(text: string): Promise<WebElement> {
    return this.find(
      `//*[not(self::script)][contains(normalize-space(.), ${quote(text)}) and not(.//*[contains(normalize-space(.), ${quote(text)})])]`,
      `"${text}"`,
    );
  }

  /** A button whose name starts with `name`, and that shows `within` where that is given. */
  button(name: string, within = ''): Promise<WebElement> {
    return this.find(
      `//button[(starts-with(normalize-space(.), ${quote(name)}) or starts-with(@aria-label, ` +
        `${quote(name)})) and contains(normalize-space(.), ${quote(within)})]`,
      `the button "${name || within}"`,
    );
  }

  link(name: string): Promise<WebElement> {
    return this.find(`//a[contains(normalize-space(.), ${quote(name)})]`, `the link "${name}"`);
  }

  box(label: string): Promise<WebElement> {
    return this.find(
      `//*[self::input or self::select or self::textarea][@aria-label=${quote(label)} or ancestor::label[contains(., ${quote(label)})]]`,
      `the box "${label}"`,
    );
  }

  /** Clicks once the thing is there to be clicked; a page that was drawn anew meanwhile is looked at again. */
  async click(find: () => Promise<WebElement>): Promise<void> {
    for (let tries = 0; ; tries++) {
      try {
        const found = await find();
        await this.steady(found);
        await found.click();
        return;
      } catch (error) {
        if (
          tries > 20 ||
          !['StaleElementReferenceError', 'ElementClickInterceptedError', 'ElementNotInteractableError'].includes(
            (error as Error).name,
          )
        )
          throw error;
        await this.driver.sleep(100);
      }
    }
  }

  /** Waits until a thing stays where it is: a click that is on its way while the page moves meets something else. */
  private async steady(element: WebElement): Promise<void> {
    let before = await element.getRect();
    for (let looks = 0; looks < 20; looks++) {
      await this.driver.sleep(40);
      const now = await element.getRect();
      if (now.x === before.x && now.y === before.y) return;
      before = now;
    }
  }

  async press(...keys: string[]): Promise<void> {
    await this.driver
      .actions()
      .sendKeys(...keys)
      .perform();
  }

  /** Waits until a box with this value has the focus, and marks all of it, so that the next key replaces it. */
  async mark(value: string): Promise<void> {
    await this.driver.wait(
      () =>
        this.driver.executeScript<boolean>(
          'const box = document.activeElement; if (box?.value !== arguments[0]) return false; box.select(); return true;',
          value,
        ),
      PATIENCE_MS,
      `no box with "${value}" has the focus`,
    );
  }

  async gone(text: string): Promise<void> {
    await this.driver.wait(
      async () => !(await this.driver.findElement(By.css('body')).getText()).includes(text),
      PATIENCE_MS,
      `"${text}" stays on screen`,
    );
  }

  /** Faults that axe finds on the page that stands, in light and in dark, and whether it is too wide for the least width. */
  async faultsOfPage(): Promise<string[]> {
    const faults: string[] = [];
    const window = this.driver.manage().window();
    const { width, height } = await window.getRect();
    await window.setRect({ width: LEAST_WIDTH, height });
    const [wide = 0, seen = 0] = await this.driver.executeScript<number[]>(
      'return [document.documentElement.scrollWidth, innerWidth]',
    );
    if (wide > seen) faults.push(`${wide} pixels wide in a window of ${seen}`);
    await window.setRect({ width, height });
    for (const theme of ['light', 'dark']) {
      await this.driver.executeScript('document.documentElement.dataset.theme = arguments[0]', theme);
      for (const fault of await this.axe()) faults.push(`${theme}: ${fault}`);
    }
    return faults;
  }

  /** Faults that axe finds by WCAG 2.2 AA, in words; an empty list when there is none. */
  async axe(): Promise<string[]> {
    const source = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
    await this.driver.executeScript(source);
    return this.driver.executeAsyncScript<string[]>(
      `const done = arguments[arguments.length - 1];
       axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa',
          'wcag22aa'] }).then((result) => done(result.violations.map((v) => v.id + ': ' + v.nodes.slice(0, 3).map((n) => n.html.slice(0,
             160) + ' ' + (n.any[0] ? n.any[0].message : '')).join(' | '))));`,
    );
  }
}

function quote(text: string): string {
  return text.includes("'") ? `"${text}"` : `'${text}'`;
}

export { Key };

/** Picks all that stands in a box, so that what is typed next takes its place. Emptying it by the driver is nothing that a person does. */
export const ALL = Key.chord(Key.CONTROL, 'a');
