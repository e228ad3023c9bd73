export { PAPERS, type Paper, type SheetContext, sheetPdf } from './sheet.ts';
