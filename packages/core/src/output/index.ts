export { type AlikeGroup, alikePieces, pieceDeviation, type SharedFile, sharedFiles } from './alike.ts';
export { type Coupon, type CouponWish, couponOf } from './coupon.ts';
export { type Exported, exportPieces, safeName } from './export.ts';
export { rehearse } from './rehearsal.ts';
