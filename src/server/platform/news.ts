import { EventEmitter } from 'node:events';
import pg from 'pg';
import { databaseUrl } from './db';
import { log } from './log';
import { oncePerProcess } from './process';

/** The channel on which triggers of the database report changes: `job:5`, `list:3`. */
const newsChannel = 'hand_stamp_news';

/**
 * One listening connection per process, however many windows follow; it reconnects when the
 * database was away.
 */
class News {
  private readonly told = new EventEmitter().setMaxListeners(0);
  private listening: Promise<void> | undefined;

  constructor(private readonly url: string) {}

  async follow(hear: (what: string) => void): Promise<() => void> {
    this.told.on('news', hear);
    await (this.listening ??= this.listen());
    return () => void this.told.off('news', hear);
  }

  private async listen(): Promise<void> {
    const client = new pg.Client({ connectionString: this.url });
    client.on('notification', ({ payload }) => payload && this.told.emit('news', payload));
    let over = false;
    const again = (error?: Error) => {
      if (over) return;
      over = true;
      if (error) log.warn({ err: error }, 'the news stopped; listening again');
      void client.end().catch(() => undefined);
      setTimeout(() => {
        this.listening = this.listen();
        // all windows reload what they missed in the meantime
        void this.listening.then(() => this.told.emit('news', 'missed'));
      }, 1000).unref();
    };
    client.on('error', again);
    client.on('end', () => again());
    try {
      await client.connect();
      await client.query(`listen ${newsChannel}`);
    } catch (error) {
      again(error instanceof Error ? error : new Error(String(error)));
    }
  }
}

/** Hears of every change from now on. Returns how to stop hearing. */
export function follow(hear: (what: string) => void, url = databaseUrl()): Promise<() => void> {
  return oncePerProcess('platform.news', () => new News(url)).follow(hear);
}
