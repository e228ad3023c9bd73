// The worker behind the live view.
import * as Comlink from 'comlink';
import { engine } from './live.ts';

Comlink.expose(engine);
