import { DataTypes, Model, type ModelStatic } from 'sequelize';

/** What a shared record carries beside its own fields. */
export interface Stamps {
  version: number;
  updatedAt: Date;
  updatedBy: string | null;
  archivedAt: Date | null;
}

export type Table<R extends object> = ModelStatic<Model<R>>;

export const text = DataTypes.STRING;
export const real = DataTypes.DOUBLE;
export const whole = DataTypes.INTEGER;
export const json = DataTypes.JSON;
export const longText = DataTypes.TEXT('long');
export const when = DataTypes.DATE(3);
export const stamps = { version: whole, updatedAt: when, updatedBy: text, archivedAt: when };
