import {
  DataTypes,
  Model,
  Sequelize,
  Transaction,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
} from 'sequelize';
import {
  type Contents,
  type DatasetKind,
  type KeptCameraDto,
  type MeasuredDto,
  type RecipeDto,
  type ReferenceDto,
  type RunStatus,
} from '@longheron/contract/api';
import { type Given } from '@longheron/contract/declare';
import { type ContourStyle, type OwnClassRequest } from '@longheron/contract/requests';
import { type Stage } from '@longheron/contract/stages';
import { type MountingJson } from '@longheron/core/frames';

/** Rows of the trail. `declare` only: public fields would hide the columns. */

export class Project extends Model<InferAttributes<Project>, InferCreationAttributes<Project>> {
  declare id: CreationOptional<number>;
  declare name: string;
  /** Of heights, metres. */
  declare toleranceM: CreationOptional<number>;
  /** Of plan, metres; null: that of heights. */
  declare planToleranceM: CreationOptional<number | null>;
  /** Of classes, smallest share that agrees in per cent. */
  declare classTolerance: CreationOptional<number>;
  /** Of a thinned TIN against the terrain, metres. */
  declare surfaceToleranceM: CreationOptional<number>;
  declare purpose: CreationOptional<string>;
  declare reference: CreationOptional<ReferenceDto | null>;
  /** Out of the way in the list of projects; it holds all that it held. */
  declare putAway: CreationOptional<boolean>;
  declare createdAt: CreationOptional<Date>;
}

export class Dataset extends Model<InferAttributes<Dataset>, InferCreationAttributes<Dataset>> {
  declare id: CreationOptional<number>;
  declare projectId: number;
  declare kind: DatasetKind;
  declare name: string;
  declare stage: Stage;
  declare currentRevisionId: CreationOptional<number | null>;
  declare createdAt: CreationOptional<Date>;
}

export interface RevisionInput {
  role: string;
  datasetId: number;
  revisionId: number;
  contentHash: string;
}

export class Revision extends Model<InferAttributes<Revision>, InferCreationAttributes<Revision>> {
  declare id: CreationOptional<number>;
  declare datasetId: number;
  declare number: number;
  declare contentHash: Buffer;
  declare runId: CreationOptional<number | null>;
  /** The revision that was current when this one was made: what undo goes back to. */
  declare parentId: CreationOptional<number | null>;
  declare madeBy: string;
  declare operationVersion: CreationOptional<number>;
  declare inputs: RevisionInput[];
  declare content: Contents[DatasetKind];
  declare createdAt: CreationOptional<Date>;
}

/** Why a job failed. */
export interface RunError {
  message: string;
  file?: string;
  place?: string;
  remedy?: string;
}

/** What a notice says beside its text. */
export interface NoticeDetail {
  effect?: string;
  remedy?: string;
  file?: string;
  place?: string;
}

export class Run extends Model<InferAttributes<Run>, InferCreationAttributes<Run>> {
  declare id: CreationOptional<number>;
  declare projectId: number;
  declare operation: string;
  declare operationVersion: number;
  declare title: string;
  declare status: RunStatus;
  declare progress: CreationOptional<number>;
  declare doing: CreationOptional<string>;
  declare settings: Given;
  declare inputs: Record<string, number | number[]>;
  declare outputs: CreationOptional<number[]>;
  declare log: CreationOptional<string[]>;
  declare error: CreationOptional<RunError | null>;
  declare startedAt: CreationOptional<Date | null>;
  declare endedAt: CreationOptional<Date | null>;
  declare createdAt: CreationOptional<Date>;
}

export class NoticeRow extends Model<InferAttributes<NoticeRow>, InferCreationAttributes<NoticeRow>> {
  declare id: CreationOptional<number>;
  declare projectId: number;
  declare datasetId: CreationOptional<number | null>;
  declare code: string;
  declare severity: string;
  declare text: string;
  declare detail: NoticeDetail;
  declare state: CreationOptional<string>;
  declare reason: CreationOptional<string | null>;
  declare createdAt: CreationOptional<Date>;
}

/** A picture that a person put into the report. */
export class Picture extends Model<InferAttributes<Picture>, InferCreationAttributes<Picture>> {
  declare id: CreationOptional<number>;
  declare projectId: number;
  declare object: Buffer;
  declare caption: string;
  declare createdAt: CreationOptional<Date>;
}

export class StoredObject extends Model<InferAttributes<StoredObject>, InferCreationAttributes<StoredObject>> {
  declare sha256: Buffer;
  declare bytes: number;
  declare kind: string;
  declare createdAt: CreationOptional<Date>;
}

/** What people keep under a name: views, classes, styles, recipes, measurements. */
export type StyleContent = Given | OwnClassRequest | ContourStyle | RecipeDto | MeasuredDto | KeptCameraDto;

/** A look that people keep under a name. */
export class Style extends Model<InferAttributes<Style>, InferCreationAttributes<Style>> {
  declare id: CreationOptional<number>;
  declare kind: string;
  declare name: string;
  declare content: StyleContent;
}

/** A version of a vehicle or tripod and what is mounted on it, for all projects. */
export class Platform extends Model<InferAttributes<Platform>, InferCreationAttributes<Platform>> {
  declare id: CreationOptional<number>;
  declare name: string;
  declare version: number;
  declare note: string;
  /** Name of the project that it was kept from. */
  declare project: string;
  declare content: MountingJson;
  declare createdAt: CreationOptional<Date>;
}

/** What people note of a session beside its recording. */
export class Sheet extends Model<InferAttributes<Sheet>, InferCreationAttributes<Sheet>> {
  declare datasetId: number;
  declare content: Given;
  declare savedAt: Date;
}

export function connect(port: number, password: string): Sequelize {
  const sequelize = new Sequelize('longheron', 'longheron', password, {
    host: '127.0.0.1',
    port,
    dialect: 'mariadb',
    logging: false,
    timezone: '+00:00',
    isolationLevel: Transaction.ISOLATION_LEVELS.READ_COMMITTED,
    dialectOptions: { charset: 'utf8mb4', connectTimeout: 10000 },
    pool: { max: 8, min: 1 },
    define: { updatedAt: false },
  });
  // a fresh object each time: Sequelize writes the column's name into it
  const id = () => ({ type: DataTypes.BIGINT, autoIncrement: true, primaryKey: true }) as const;
  const createdAt = () => ({ type: DataTypes.DATE(3), allowNull: false }) as const;
  const big = () => ({ type: DataTypes.BIGINT, allowNull: false }) as const;
  const nullableBig = () => ({ type: DataTypes.BIGINT, allowNull: true }) as const;
  const text = (n: number) => ({ type: DataTypes.STRING(n), allowNull: false }) as const;
  const json = () => ({ type: DataTypes.JSON, allowNull: false }) as const;
  const common = (tableName: string) => ({ sequelize, tableName, updatedAt: false as const });
  Project.init(
    {
      id: id(),
      name: text(120),
      toleranceM: { type: DataTypes.DOUBLE, allowNull: false, defaultValue: 0.03 },
      planToleranceM: { type: DataTypes.DOUBLE, allowNull: true },
      classTolerance: { type: DataTypes.DOUBLE, allowNull: false, defaultValue: 95 },
      surfaceToleranceM: { type: DataTypes.DOUBLE, allowNull: false, defaultValue: 0.02 },
      purpose: { ...text(500), defaultValue: '' },
      reference: { type: DataTypes.JSON, allowNull: true },
      putAway: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      createdAt: createdAt(),
    },
    common('projects'),
  );
  Dataset.init(
    {
      id: id(),
      projectId: big(),
      kind: text(30),
      name: text(255),
      stage: text(20),
      currentRevisionId: nullableBig(),
      createdAt: createdAt(),
    },
    common('datasets'),
  );
  Revision.init(
    {
      id: id(),
      datasetId: big(),
      number: { type: DataTypes.INTEGER, allowNull: false },
      contentHash: { type: DataTypes.BLOB, allowNull: false },
      runId: nullableBig(),
      parentId: nullableBig(),
      madeBy: text(60),
      operationVersion: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 },
      inputs: json(),
      content: json(),
      createdAt: createdAt(),
    },
    common('revisions'),
  );
  Run.init(
    {
      id: id(),
      projectId: big(),
      operation: text(30),
      operationVersion: { type: DataTypes.INTEGER, allowNull: false },
      title: text(255),
      status: text(20),
      progress: { type: DataTypes.DOUBLE, allowNull: false, defaultValue: 0 },
      doing: { ...text(255), defaultValue: '' },
      settings: json(),
      inputs: json(),
      outputs: { ...json(), defaultValue: [] },
      log: { ...json(), defaultValue: [] },
      error: { type: DataTypes.JSON, allowNull: true },
      startedAt: { type: DataTypes.DATE(3), allowNull: true },
      endedAt: { type: DataTypes.DATE(3), allowNull: true },
      createdAt: createdAt(),
    },
    common('runs'),
  );
  NoticeRow.init(
    {
      id: id(),
      projectId: big(),
      datasetId: nullableBig(),
      code: text(60),
      severity: text(10),
      text: { type: DataTypes.TEXT, allowNull: false },
      detail: json(),
      state: { ...text(10), defaultValue: 'open' },
      reason: { type: DataTypes.STRING(500), allowNull: true },
      createdAt: createdAt(),
    },
    common('notices'),
  );
  Picture.init(
    {
      id: id(),
      projectId: big(),
      object: { type: DataTypes.BLOB, allowNull: false },
      caption: text(300),
      createdAt: createdAt(),
    },
    common('pictures'),
  );
  Style.init(
    { id: id(), kind: text(30), name: text(60), content: json() },
    { ...common('styles'), createdAt: false, indexes: [{ unique: true, fields: ['kind', 'name'] }] },
  );
  Platform.init(
    {
      id: id(),
      name: text(60),
      version: { type: DataTypes.INTEGER, allowNull: false },
      note: text(300),
      project: text(120),
      content: json(),
      createdAt: createdAt(),
    },
    { ...common('platforms'), indexes: [{ unique: true, fields: ['name', 'version'] }] },
  );
  Sheet.init(
    {
      datasetId: { type: DataTypes.BIGINT, primaryKey: true },
      content: json(),
      savedAt: createdAt(),
    },
    { ...common('sheets'), createdAt: false },
  );
  StoredObject.init(
    {
      sha256: { type: DataTypes.BLOB, primaryKey: true, allowNull: false },
      bytes: big(),
      kind: text(30),
      createdAt: createdAt(),
    },
    common('objects'),
  );
  return sequelize;
}
