export { type RunningServer, type ServerOptions, startServer } from './server.ts';
