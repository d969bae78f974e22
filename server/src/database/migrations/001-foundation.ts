import type { Sequelize } from 'sequelize';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL';
const REF = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const STAMPS = `version INT NOT NULL DEFAULT 0, updated_at DATETIME(3) NOT NULL, updated_by ${REF} NULL, archived_at DATETIME(3) NULL,
  FOREIGN KEY (updated_by) REFERENCES members(id)`;

const TABLES = [
  `CREATE TABLE clubs (id ${ID} PRIMARY KEY, name VARCHAR(120) NOT NULL, demo TINYINT NOT NULL DEFAULT 0)`,
  `CREATE TABLE members (
    id ${ID} PRIMARY KEY, club_id ${REF} NOT NULL, name VARCHAR(120) NOT NULL, sign_in VARCHAR(60) NOT NULL UNIQUE,
    role ENUM('steward','member','guest') NOT NULL, password_hash VARCHAR(255) NOT NULL, archived_at DATETIME(3) NULL,
    FOREIGN KEY (club_id) REFERENCES clubs(id))`,
  `CREATE TABLE Sessions (
    sid VARCHAR(64) PRIMARY KEY, expires DATETIME(3) NULL, data MEDIUMTEXT,
    INDEX (expires))`,
  `CREATE TABLE sites (
    id ${ID} PRIMARY KEY, club_id ${REF} NOT NULL, name VARCHAR(120) NOT NULL, kind ENUM('backyard','club','remote') NOT NULL,
    latitude_deg DOUBLE NOT NULL, longitude_deg DOUBLE NOT NULL, elevation_m DOUBLE NOT NULL, time_zone VARCHAR(64) NOT NULL,
    sky_mag DOUBLE NOT NULL, horizon JSON NOT NULL, horizon_note VARCHAR(500) NOT NULL, ${STAMPS},
    UNIQUE (club_id, name), FOREIGN KEY (club_id) REFERENCES clubs(id))`,
  `CREATE TABLE parts (
    id ${ID} PRIMARY KEY, club_id ${REF} NOT NULL, owner_id ${REF} NULL, name VARCHAR(120) NOT NULL, kind VARCHAR(30) NOT NULL,
    data JSON NOT NULL, ${STAMPS},
    FOREIGN KEY (club_id) REFERENCES clubs(id), FOREIGN KEY (owner_id) REFERENCES members(id))`,
  `CREATE TABLE rigs (
    id ${ID} PRIMARY KEY, club_id ${REF} NOT NULL, site_id ${REF} NOT NULL, name VARCHAR(120) NOT NULL, ${STAMPS},
    UNIQUE (club_id, name), FOREIGN KEY (club_id) REFERENCES clubs(id), FOREIGN KEY (site_id) REFERENCES sites(id))`,
  `CREATE TABLE train_states (
    id ${ID} PRIMARY KEY, rig_id ${REF} NOT NULL, fingerprint CHAR(16) NOT NULL, words VARCHAR(40) NOT NULL, created_at DATETIME(3) NOT NULL,
    UNIQUE (rig_id, fingerprint), FOREIGN KEY (rig_id) REFERENCES rigs(id))`,
  `CREATE TABLE rig_revisions (
    id ${ID} PRIMARY KEY, rig_id ${REF} NOT NULL, number INT NOT NULL, setup JSON NOT NULL, changes JSON NOT NULL,
    train_state_id ${REF} NOT NULL, by_id ${REF} NOT NULL, at DATETIME(3) NOT NULL,
    UNIQUE (rig_id, number), FOREIGN KEY (rig_id) REFERENCES rigs(id), FOREIGN KEY (train_state_id) REFERENCES train_states(id),
    FOREIGN KEY (by_id) REFERENCES members(id))`,
  `CREATE TABLE projects (
    id ${ID} PRIMARY KEY, club_id ${REF} NOT NULL, owner_id ${REF} NOT NULL, rig_id ${REF} NOT NULL, name VARCHAR(120) NOT NULL,
    object VARCHAR(60) NOT NULL, object_type VARCHAR(60) NOT NULL, ra_deg DOUBLE NOT NULL, dec_deg DOUBLE NOT NULL, size_arcmin DOUBLE NULL,
    angle_deg DOUBLE NOT NULL, minimum_altitude_deg DOUBLE NOT NULL, note TEXT NOT NULL, ${STAMPS},
    FOREIGN KEY (club_id) REFERENCES clubs(id), FOREIGN KEY (owner_id) REFERENCES members(id), FOREIGN KEY (rig_id) REFERENCES rigs(id))`,
  `CREATE TABLE project_goals (
    id ${ID} PRIMARY KEY, project_id ${REF} NOT NULL, place INT NOT NULL, filter VARCHAR(40) NOT NULL, exposure_s DOUBLE NOT NULL, quota INT NOT NULL,
    UNIQUE (project_id, filter), CHECK (quota >= 1), CHECK (exposure_s > 0), FOREIGN KEY (project_id) REFERENCES projects(id))`,
  `CREATE TABLE plans (
    id ${ID} PRIMARY KEY, project_id ${REF} NOT NULL, rig_id ${REF} NOT NULL, owner_id ${REF} NOT NULL, night DATE NOT NULL,
    start DATETIME(3) NOT NULL, end DATETIME(3) NOT NULL, flip_at DATETIME(3) NULL, settings JSON NOT NULL, locked TINYINT NOT NULL DEFAULT 0,
    status ENUM('planned','done','cancelled') NOT NULL DEFAULT 'planned', ${STAMPS},
    INDEX (rig_id, night), CHECK (end > start), FOREIGN KEY (project_id) REFERENCES projects(id), FOREIGN KEY (rig_id) REFERENCES rigs(id),
    FOREIGN KEY (owner_id) REFERENCES members(id))`,
  `CREATE TABLE runs (
    id ${ID} PRIMARY KEY, plan_id ${REF} NOT NULL, train_state_id ${REF} NOT NULL, seed INT NOT NULL,
    state ENUM('rehearsed','accepted','discarded') NOT NULL DEFAULT 'rehearsed', offsets_used TINYINT NOT NULL, result LONGTEXT NOT NULL,
    by_id ${REF} NOT NULL, at DATETIME(3) NOT NULL, accepted_plan ${REF} NULL UNIQUE,
    FOREIGN KEY (plan_id) REFERENCES plans(id), FOREIGN KEY (train_state_id) REFERENCES train_states(id), FOREIGN KEY (by_id) REFERENCES members(id))`,
  `CREATE TABLE frame_counts (
    id ${ID} PRIMARY KEY, run_id ${REF} NOT NULL, project_id ${REF} NOT NULL, night DATE NOT NULL, filter VARCHAR(40) NOT NULL,
    exposure_s DOUBLE NOT NULL, accepted INT NOT NULL, rejected INT NOT NULL,
    UNIQUE (run_id, filter), INDEX (project_id), FOREIGN KEY (run_id) REFERENCES runs(id), FOREIGN KEY (project_id) REFERENCES projects(id))`,
  `CREATE TABLE focus_runs (
    id ${ID} PRIMARY KEY, train_state_id ${REF} NOT NULL, filter VARCHAR(40) NOT NULL, position DOUBLE NOT NULL, hfd DOUBLE NULL, error DOUBLE NULL,
    temperature_c DOUBLE NULL, time DATETIME(3) NULL, points JSON NOT NULL, usable TINYINT NOT NULL, reason VARCHAR(500) NOT NULL,
    source ENUM('typed','file','run') NOT NULL, run_id ${REF} NULL, excluded TINYINT NOT NULL DEFAULT 0, by_id ${REF} NOT NULL, created_at DATETIME(3) NOT NULL,
    UNIQUE (train_state_id, filter, time, position), FOREIGN KEY (train_state_id) REFERENCES train_states(id),
    FOREIGN KEY (run_id) REFERENCES runs(id), FOREIGN KEY (by_id) REFERENCES members(id))`,
  `CREATE TABLE offset_sets (
    id ${ID} PRIMARY KEY, train_state_id ${REF} NOT NULL, reference VARCHAR(40) NOT NULL, model VARCHAR(20) NOT NULL, offsets JSON NOT NULL,
    temperature_steps_per_c DOUBLE NULL, zone_steps DOUBLE NULL, run_count INT NOT NULL, by_id ${REF} NOT NULL, adopted_at DATETIME(3) NOT NULL,
    FOREIGN KEY (train_state_id) REFERENCES train_states(id), FOREIGN KEY (by_id) REFERENCES members(id))`,
  `CREATE TABLE changes (
    id ${ID} PRIMARY KEY, at DATETIME(3) NOT NULL, member_id ${REF} NOT NULL, subject VARCHAR(160) NOT NULL, text VARCHAR(1000) NOT NULL,
    INDEX (at), FOREIGN KEY (member_id) REFERENCES members(id))`,
];

export async function up(db: Sequelize): Promise<void> {
  for (const sql of TABLES) await db.query(`${sql} ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`);
}
