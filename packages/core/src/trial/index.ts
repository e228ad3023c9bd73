export { type Coupon, type CouponWish, couponOf } from './coupon.ts';
export { rehearse, type Slice } from './rehearsal.ts';
