import { AuditEntry } from '../audit/audit.entities.js';
import { Session, Attempt } from '../auth/auth.entities.js';
import { CaptureRecord, CaptureChunk, Original, OriginalPart, AnalysisRecord } from '../captures/captures.entities.js';
import { MathChunk, MathRecord } from '../captures/math.entities.js';
import { Vehicle, Case } from '../cases/cases.entities.js';
import { Setting } from './settings.entities.js';
import { EvidenceRecord } from '../evidence/evidence.entities.js';
import { Shop, User } from '../people/people.entities.js';
import { PhotoPart } from '../photos/photos.entities.js';
import { CaseSeal } from '../seal/seal.entities.js';
import { ShelfEntry } from '../shelf/shelf.entities.js';
import { SystemLine, SystemVersion } from '../systems/systems.entities.js';
import { Tool } from '../tools/tools.entities.js';
import { Job } from '../work/jobs.entities.js';

/** Every table of the database, as its domain describes it. */
export const ENTITIES = [
  Shop,
  User,
  Session,
  Vehicle,
  Case,
  EvidenceRecord,
  CaseSeal,
  CaptureRecord,
  CaptureChunk,
  Original,
  OriginalPart,
  MathRecord,
  MathChunk,
  Job,
  AnalysisRecord,
  PhotoPart,
  SystemLine,
  SystemVersion,
  AuditEntry,
  Attempt,
  Setting,
  Tool,
  ShelfEntry,
];
