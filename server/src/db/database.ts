import { Sequelize } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';
import { migrations } from './migrations';
import { defineModels } from './models';

/** Connects, and brings the tables up to date. Two servers that start at once wait for each other. */
export async function openDatabase(url: string): Promise<Sequelize> {
  const sequelize = new Sequelize(url, { dialect: 'postgres', logging: false, pool: { max: 8 } });
  defineModels(sequelize);
  await sequelize.transaction(async (transaction) => {
    await sequelize.query('SELECT pg_advisory_xact_lock(7120331)', { transaction });
    const umzug = new Umzug({
      migrations,
      context: sequelize.getQueryInterface(),
      storage: new SequelizeStorage({ sequelize }),
      logger: undefined,
    });
    await umzug.up();
  });
  return sequelize;
}
