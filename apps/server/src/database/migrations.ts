import { type Sequelize } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';

/** Steps from one layout of the tables to the next. Each can be repeated: a start may be cut off between its statements. */
const MIGRATIONS: Array<{ name: string; statements: string[] }> = [
  {
    name: '0001-trail',
    statements: [
      `CREATE TABLE IF NOT EXISTS objects (sha256 BINARY(32) PRIMARY KEY, bytes BIGINT NOT NULL, kind VARCHAR(30) NOT NULL, createdAt DATETIME(3) NOT NULL)`,
      `CREATE TABLE IF NOT EXISTS projects (id BIGINT AUTO_INCREMENT PRIMARY KEY, name VARCHAR(120) NOT NULL, toleranceM DOUBLE NOT NULL DEFAULT 0.03, reference JSON NULL, createdAt DATETIME(3) NOT NULL)`,
      `CREATE TABLE IF NOT EXISTS runs (id BIGINT AUTO_INCREMENT PRIMARY KEY, projectId BIGINT NOT NULL, operation VARCHAR(30) NOT NULL, operationVersion INT NOT NULL, title VARCHAR(255) NOT NULL, status VARCHAR(20) NOT NULL, progress DOUBLE NOT NULL DEFAULT 0, doing VARCHAR(255) NOT NULL DEFAULT '', settings JSON NOT NULL, inputs JSON NOT NULL, outputs JSON NOT NULL, log JSON NOT NULL, error JSON NULL, startedAt DATETIME(3) NULL, endedAt DATETIME(3) NULL, createdAt DATETIME(3) NOT NULL, INDEX (projectId, id), INDEX (status), FOREIGN KEY (projectId) REFERENCES projects (id))`,
      `CREATE TABLE IF NOT EXISTS datasets (id BIGINT AUTO_INCREMENT PRIMARY KEY, projectId BIGINT NOT NULL, kind VARCHAR(30) NOT NULL, name VARCHAR(255) NOT NULL, stage VARCHAR(20) NOT NULL, currentRevisionId BIGINT NULL, createdAt DATETIME(3) NOT NULL, INDEX (projectId), FOREIGN KEY (projectId) REFERENCES projects (id))`,
      `CREATE TABLE IF NOT EXISTS revisions (id BIGINT AUTO_INCREMENT PRIMARY KEY, datasetId BIGINT NOT NULL, number INT NOT NULL, contentHash BINARY(32) NOT NULL, runId BIGINT NULL, madeBy VARCHAR(60) NOT NULL, operationVersion INT NOT NULL DEFAULT 0, inputs JSON NOT NULL, content JSON NOT NULL, createdAt DATETIME(3) NOT NULL, UNIQUE (datasetId, number), FOREIGN KEY (datasetId) REFERENCES datasets (id), FOREIGN KEY (runId) REFERENCES runs (id))`,
      `CREATE TABLE IF NOT EXISTS notices (id BIGINT AUTO_INCREMENT PRIMARY KEY, projectId BIGINT NOT NULL, datasetId BIGINT NULL, code VARCHAR(60) NOT NULL, severity VARCHAR(10) NOT NULL, text TEXT NOT NULL, detail JSON NOT NULL, state VARCHAR(10) NOT NULL DEFAULT 'open', reason VARCHAR(500) NULL, createdAt DATETIME(3) NOT NULL, INDEX (projectId, state), FOREIGN KEY (projectId) REFERENCES projects (id), FOREIGN KEY (datasetId) REFERENCES datasets (id))`,
    ],
  },
  {
    name: '0002-purpose-and-pictures',
    statements: [
      `ALTER TABLE revisions ADD COLUMN IF NOT EXISTS parentId BIGINT NULL`,
      `ALTER TABLE projects ADD COLUMN IF NOT EXISTS purpose VARCHAR(500) NOT NULL DEFAULT ''`,
      `CREATE TABLE IF NOT EXISTS pictures (id BIGINT AUTO_INCREMENT PRIMARY KEY, projectId BIGINT NOT NULL, object BINARY(32) NOT NULL, caption VARCHAR(300) NOT NULL, createdAt DATETIME(3) NOT NULL, INDEX (projectId), FOREIGN KEY (projectId) REFERENCES projects (id))`,
    ],
  },
  {
    name: '0003-styles',
    statements: [
      `CREATE TABLE IF NOT EXISTS styles (id BIGINT AUTO_INCREMENT PRIMARY KEY, kind VARCHAR(30) NOT NULL, name VARCHAR(60) NOT NULL, content JSON NOT NULL, UNIQUE (kind, name))`,
    ],
  },
  {
    name: '0004-platforms-and-sheets',
    statements: [
      `CREATE TABLE IF NOT EXISTS platforms (id BIGINT AUTO_INCREMENT PRIMARY KEY, name VARCHAR(60) NOT NULL, version INT NOT NULL, note VARCHAR(300) NOT NULL, project VARCHAR(120) NOT NULL, content JSON NOT NULL, createdAt DATETIME(3) NOT NULL, UNIQUE (name, version))`,
      `CREATE TABLE IF NOT EXISTS sheets (datasetId BIGINT PRIMARY KEY, content JSON NOT NULL, savedAt DATETIME(3) NOT NULL, FOREIGN KEY (datasetId) REFERENCES datasets (id) ON DELETE CASCADE)`,
    ],
  },
  {
    name: '0005-looks',
    statements: [
      `CREATE TABLE IF NOT EXISTS looks (datasetId BIGINT NOT NULL, cellX INT NOT NULL, cellY INT NOT NULL, how TINYINT NOT NULL, seconds DOUBLE NOT NULL, lastAt DATETIME(3) NOT NULL, PRIMARY KEY (datasetId, cellX, cellY, how), FOREIGN KEY (datasetId) REFERENCES datasets (id) ON DELETE CASCADE)`,
    ],
  },
  {
    name: '0006-put-away',
    statements: [`ALTER TABLE projects ADD COLUMN IF NOT EXISTS putAway BOOLEAN NOT NULL DEFAULT FALSE`],
  },
  {
    name: '0007-tolerances',
    statements: [
      `ALTER TABLE projects ADD COLUMN IF NOT EXISTS planToleranceM DOUBLE NULL`,
      `ALTER TABLE projects ADD COLUMN IF NOT EXISTS classTolerance DOUBLE NOT NULL DEFAULT 95`,
      `ALTER TABLE projects ADD COLUMN IF NOT EXISTS surfaceToleranceM DOUBLE NOT NULL DEFAULT 0.02`,
    ],
  },
];

/** Brings the tables to the present layout; each step runs once. */
export async function migrate(sequelize: Sequelize): Promise<string[]> {
  const umzug = new Umzug({
    migrations: MIGRATIONS.map(({ name, statements }) => ({
      name,
      up: async () => {
        for (const s of statements) await sequelize.query(s);
      },
    })),
    storage: new SequelizeStorage({ sequelize, tableName: 'migrations' }),
    logger: undefined,
  });
  return (await umzug.up()).map((m) => m.name);
}
