import { DataTypes } from 'sequelize';
import type { Framing, ProjectSeason } from '@keen/contract';

import { json, real, stamps, text, whole, type Stamps } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

export type StoredFraming = Omit<Framing, 'by'> & { byId: string };

export interface ProjectRow extends Stamps {
  id: string;
  clubId: string;
  ownerId: string;
  rigId: string;
  system: string;
  name: string;
  object: string;
  objectType: string;
  raDeg: number;
  decDeg: number;
  sizeArcmin: number | null;
  angleDeg: number;
  minimumAltitudeDeg: number;
  note: string;
  framing: StoredFraming | null;
  /** Null: at any time, weighed like its owner’s others. */
  season: ProjectSeason | null;
}

export interface GoalRow {
  id: string;
  projectId: string;
  place: number;
  filter: string;
  exposureS: number;
  quota: number;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const projectsTables = (table: Define) => ({
  projects: table<ProjectRow>('projects', {
    clubId: text,
    ownerId: text,
    rigId: text,
    system: text,
    name: text,
    object: text,
    objectType: text,
    raDeg: real,
    decDeg: real,
    sizeArcmin: real,
    angleDeg: real,
    minimumAltitudeDeg: real,
    note: DataTypes.TEXT,
    framing: json,
    season: json,
    ...stamps,
  }),
  goals: table<GoalRow>('project_goals', {
    projectId: text,
    place: whole,
    filter: text,
    exposureS: real,
    quota: whole,
  }),
});
