import { DataTypes, type Model, type ModelAttributes, type Sequelize } from 'sequelize';
import type { Table } from './columns.ts';

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
    // rows are read as plain objects: nothing here is changed through an instance, and building one for each row costs more
    // than the database takes to find it
    const find = made.findAll.bind(made);
    made.findAll = ((options: object) => find({ ...options, raw: true })) as typeof made.findAll;
    return made;
  };
