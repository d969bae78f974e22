import { DataTypes, type Model, type ModelAttributes, type Sequelize, type Transaction } from 'sequelize';
import type { Table } from './columns.ts';
import { plainSelect } from './plainFind.ts';
import { read } from './read.ts';

/** Makes a table known by its name and columns; every table has an id. */
export type Define = <R extends object>(name: string, columns: Record<Exclude<keyof R, 'id'>, unknown>) => Table<R>;

const snake = (k: string) => k.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`);

export const defineIn =
  (db: Sequelize): Define =>
  <R extends object>(name: string, columns: Record<Exclude<keyof R, 'id'>, unknown>): Table<R> => {
    const attributes = Object.fromEntries(
      Object.entries(columns as Record<string, unknown>).map(([k, type]) => [k, { type, field: snake(k) }]),
    );
    const made: Table<R> = db.define(name, {
      id: { type: DataTypes.CHAR(36), primaryKey: true },
      ...attributes,
    } as ModelAttributes<Model<R>>);
    const fields = new Map(['id', ...Object.keys(columns)].map((k) => [k, snake(k)]));
    // rows are read as plain objects: nothing here is changed through an instance, and building one for each row costs more
    // than the database takes to find it
    const find = made.findAll.bind(made);
    const findPlain = async (options: { plain?: boolean; transaction?: Transaction } = {}): Promise<unknown> => {
      const select = plainSelect(name, fields, options as Parameters<typeof plainSelect>[2]);
      if (!select) return find({ ...options, raw: true });
      const rows = await read(db, select.sql, select.values, options.transaction);
      return options.plain ? (rows[0] ?? null) : rows;
    };
    made.findAll = findPlain as unknown as typeof made.findAll;
    return made;
  };
