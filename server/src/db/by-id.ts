import type { FindOptions, Model, ModelStatic } from 'sequelize';
import { z } from 'zod';
import { notFound } from '../http/problems';

/** The row of this id, as it stands in an address. @param what it is, in words @throws GableError `not-found` */
export async function byId<M extends Model>(
  model: ModelStatic<M>,
  id: string | undefined,
  what: string,
  options: Pick<FindOptions, 'attributes'> = {},
): Promise<M> {
  const known = z.uuid().safeParse(id);
  const found = known.success ? await model.findByPk(known.data, options) : null;
  if (!found) throw notFound(what);
  return found;
}
