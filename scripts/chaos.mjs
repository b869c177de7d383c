/**
 * `npm run chaos -- --rounds=60`: kills one process at random in each round, the web server, a
 * worker or a worker's child, while records arrive, runs are made and links are scanned. What was
 * acknowledged is counted afterwards: each record once, each run once and whole, no link scan more
 * than was made. Exits with 1 if a count is wrong.
 */
import { spawn } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { needBuild, needDebian, needPackages, root, say, startCommand } from './lib-setup.mjs';

needDebian(['postgresql']);
needPackages();
needBuild();
const argument = (name, otherwise) =>
  Number(process.argv.find((a) => a.startsWith(`--${name}=`))?.slice(name.length + 3) ?? otherwise);
const rounds = argument('rounds', 60);
const port = argument('port', 3122);
const url = `http://localhost:${port}`;
const application = spawn(
  process.execPath,
  [startCommand, '--purpose=chaos', '--fresh', `--port=${port}`],
  { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] },
);
let over = false;
const end = (code) => {
  over = true;
  application.once('exit', () => process.exit(code));
  application.kill('SIGTERM');
  setTimeout(() => process.exit(code), 15_000).unref();
};
process.on('SIGINT', () => end(1));

/** The user agent that scans; robots are counted separately. */
const phone = 'Mozilla/5.0 (Linux; Android 14; Mobile)';
const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
/** Repeats a request until there is an answer, with the same Idempotency-Key. */
async function ask(
  path,
  { body, headers = {}, method = body === undefined ? 'GET' : 'POST' } = {},
) {
  for (let tries = 0; tries < 400 && !over; tries++) {
    try {
      const answer = await fetch(url + path, {
        method,
        redirect: 'manual',
        signal: AbortSignal.timeout(20_000),
        headers: {
          ...(body === undefined ? {} : { 'content-type': 'application/json' }),
          ...headers,
        },
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      });
      if (answer.status < 500 && answer.status !== 409 && answer.status !== 429) {
        if (answer.status === 302) return { status: 302 };
        const text = await answer.text();
        if (answer.status >= 400)
          throw new Error(`${path}: ${answer.status} ${text.slice(0, 200)}`);
        return JSON.parse(text);
      }
    } catch (error) {
      if (/^\//.test(error.message)) throw error;
    }
    await pause(150);
  }
  throw new Error(`${path} had no answer`);
}

/** The processes that are killed, by name. */
function victims() {
  const children = new Map();
  for (const entry of readdirSync('/proc').filter((name) => /^\d+$/.test(name)))
    try {
      const stat = readFileSync(`/proc/${entry}/stat`, 'utf8');
      const parent = Number(stat.slice(stat.lastIndexOf(')') + 2).split(' ')[1]);
      children.set(parent, [...(children.get(parent) ?? []), Number(entry)]);
    } catch {
      // it is gone
    }
  const own = children.get(application.pid) ?? [];
  const named = own.flatMap((pid) => {
    try {
      const name = /HAND_STAMP_PROCESS=([\w-]+)/.exec(
        readFileSync(`/proc/${pid}/environ`, 'latin1'),
      );
      return name && /^(web|worker-\d)$/.test(name[1]) ? [{ pid, name: name[1] }] : [];
    } catch {
      return [];
    }
  });
  return named.flatMap((one) => [
    one,
    ...(children.get(one.pid) ?? []).map((pid) => ({ pid, name: `a child of ${one.name}` })),
  ]);
}

const killed = {};
const wrong = [];
try {
  await ask('/api/health');
  const { key } = await ask('/api/keys', {
    body: {
      name: 'Chaos',
      rights: ['reads', 'writes', 'runs', 'links'],
      list: null,
      ends: null,
    },
  });
  const { job } = await ask('/api/lists', { body: { name: 'Chaos', purpose: 'text' } });
  const auth = { authorization: `Bearer ${key}` };
  const { list } = await ask(`/api/v1/jobs/${job}`, { headers: auth });
  const { columns } = (await ask('/api/v1/lists', { headers: auth })).lists.find(
    (l) => l.id === list,
  );
  const names = columns.map((c) => c.name ?? c);
  const link = await ask('/api/v1/links', {
    body: { title: 'Chaos', to: 'https://marrambay.example/chaos' },
    headers: auth,
  });
  const runs = new Map();
  let scans = 0;
  let made = 0;
  for (let round = 0; round < rounds && !over; round++) {
    const work = Array.from({ length: 8 }, (_, i) => {
      const no = `R${round}-${i}`;
      made++;
      return ask(`/api/v1/lists/${list}/records`, {
        body: { values: Object.fromEntries(names.map((name) => [name, no])) },
        headers: { ...auth, 'idempotency-key': no },
      });
    });
    const scanning = Array.from({ length: 5 }, () =>
      ask(`/l/${link.code}`, { headers: { 'user-agent': phone } }).then(() => void scans++),
    );
    const waits = Math.random() * 400;
    const killing = pause(waits).then(() => {
      const all = victims();
      const one = all[Math.floor(Math.random() * all.length)];
      if (!one) return;
      killed[one.name] = (killed[one.name] ?? 0) + 1;
      process.kill(one.pid, 'SIGKILL');
    });
    const records = await Promise.all(work);
    const run = await ask(`/api/v1/jobs/${job}/runs`, {
      body: { name: `Round ${round}`, records: records.map((r) => r.id) },
      headers: { ...auth, 'idempotency-key': `run-${round}` },
    });
    runs.set(run.id, `Round ${round}`);
    await Promise.all([killing, ...scanning]);
    if ((round + 1) % 10 === 0) say(`${round + 1} rounds, ${made} records, ${runs.size} runs`);
  }
  for (const [id, name] of runs)
    for (let tries = 0; ; tries++) {
      const run = await ask(`/api/v1/runs/${id}`, { headers: auth });
      if (['waiting', 'running'].includes(run.state) && tries < 600) {
        await pause(500);
        continue;
      }
      if (run.name !== name || run.state !== 'done' || run.pieces !== 8 || run.read !== 8)
        wrong.push(
          `${name} is ${run.name}, ${run.state}, ${run.read} of ${run.pieces}: ${run.error}`,
        );
      break;
    }
  const count = new Map();
  for (let cursor; ;) {
    const page = await ask(
      `/api/v1/lists/${list}/records?limit=200${cursor ? `&cursor=${encodeURIComponent(cursor)}` : ''}`,
      { headers: auth },
    );
    for (const record of page.records) {
      const no = record.values[names[0]];
      if (/^R\d/.test(no)) count.set(no, (count.get(no) ?? 0) + 1);
    }
    if (!page.next) break;
    cursor = page.next;
  }
  if (count.size !== made) wrong.push(`${made} records were acknowledged, ${count.size} are there`);
  for (const [no, n] of count) if (n !== 1) wrong.push(`${no} is there ${n} times`);
  const { runs: all } = await ask(`/api/v1/jobs/${job}`, { headers: auth });
  const expected = Math.min(100, runs.size);
  if (all.length !== expected)
    wrong.push(`${expected} runs were asked for, ${all.length} are there`);
  await pause(1500);
  const counted = (await ask(`/api/v1/links/${link.code}`, { headers: auth })).scans;
  // a kill of the web server may lose the answers of the last 100 ms, and no more
  const mayGo = 5 * (killed.web ?? 0);
  if (counted > scans || counted < scans - mayGo)
    wrong.push(`${scans} scans were answered, ${counted} are counted`);
  const kills = Object.values(killed).reduce((a, b) => a + b, 0);
  say(
    `${kills} kills: ${Object.entries(killed)
      .map(([name, n]) => `${name} ${n}`)
      .join(', ')}`,
  );
  say(
    `${count.size} of ${made} records once, ${runs.size} runs, ${counted} of ${scans} scans counted; ${scans - counted} were lost within 100 ms before a kill of the web server`,
  );
} catch (error) {
  wrong.push(String(error?.stack ?? error));
}
for (const line of wrong) say(`WRONG: ${line}`);
say(wrong.length === 0 ? 'All accounts are right.' : `${wrong.length} accounts are wrong.`);
end(wrong.length === 0 ? 0 : 1);
