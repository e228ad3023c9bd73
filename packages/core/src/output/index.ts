export { type AlikeGroup, alikePieces, alikeSearch, pieceDeviation, type SharedFile, sharedFiles } from './alike.ts';
export { type Coupon, type CouponWish, couponOf } from './coupon.ts';
export {
  crossedBodies,
  csvCell,
  type Exported,
  type ExportFile,
  type ExportOptions,
  exportPieces,
  fileFaults,
  mirrorImage,
  safeName,
} from './export.ts';
export { rehearse } from './rehearsal.ts';
