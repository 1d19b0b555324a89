import { EventEmitter } from 'node:events';
import { Client } from 'pg';

/** A long job that came, or changed; without an id, any may have: the connection was away for a while. */
export interface JobChange {
  id: string | null;
  state: string;
}

/** How long until a lost connection is made again, in milliseconds. */
const RECONNECT = 1000;

/** What this server and others on the same database change (PostgreSQL `NOTIFY`, of which triggers take care). */
export class Notifications {
  private readonly events = new EventEmitter().setMaxListeners(0);
  private client: Client | null = null;
  private again: ReturnType<typeof setTimeout> | undefined;
  private closed = false;

  constructor(private readonly url: string) {}

  /** Begins to listen. A connection that is lost later is made again. */
  async listen(): Promise<void> {
    const client = new Client({ connectionString: this.url, application_name: 'gable notifications' });
    client.on('notification', ({ payload = '' }) => {
      const [id = null, state = ''] = payload.split(' ');
      this.events.emit('job', { id, state } satisfies JobChange);
    });
    client.on('error', () => this.reconnect(client));
    client.on('end', () => this.reconnect(client));
    this.client = client;
    await client.connect();
    await client.query('LISTEN jobs');
  }

  private reconnect(client: Client): void {
    if (this.closed || this.client !== client) return;
    this.client = null;
    this.again = setTimeout(() => {
      this.listen().then(
        () => this.events.emit('job', { id: null, state: '' } satisfies JobChange),
        () => this.reconnect(this.client!),
      );
    }, RECONNECT);
  }

  /** @returns what ends the listening */
  onJob(listener: (change: JobChange) => void): () => void {
    this.events.on('job', listener);
    return () => this.events.off('job', listener);
  }

  async close(): Promise<void> {
    this.closed = true;
    clearTimeout(this.again);
    await this.client?.end().catch(() => undefined);
  }
}
