import type { Sequelize } from 'sequelize';
import type { Clock } from './clock';
import type { BlobStore } from './db/blobs';
import type { Notifications } from './db/notifications';
import type { Tasks } from './tasks/registry';
import type { Spool } from './tasks/spool';

/** What every part of the server works with. */
export interface AppContext {
  sequelize: Sequelize;
  blobs: BlobStore;
  tasks: Tasks;
  spool: Spool;
  notifications: Notifications;
  clock: Clock;
}
