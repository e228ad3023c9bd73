import { assembly } from './assembly/index.ts';
import { beds } from './beds/index.ts';
import { joints } from './joints/index.ts';
import { model } from './model/index.ts';
import { pieces } from './pieces/index.ts';
import { seams } from './seams/index.ts';
import type { Station } from './station.ts';
import { workshop } from './workshop/index.ts';

/** The stations in the order of the work. A new one is a folder and a line here. */
export const STATIONS: readonly Station[] = [model, seams, joints, pieces, beds, assembly, workshop];
