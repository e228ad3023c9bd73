export { engraved, textWidth } from './glyphs.ts';
export { labelFindings, labelled } from './labelled.ts';
