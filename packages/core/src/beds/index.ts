export { type Fixed, type NestItem, type Nesting, type NestRoom, nest, type Placement } from './nest.ts';
export {
  boxOfShadow,
  type FlatBox,
  grown,
  mirroredShadow,
  placed,
  type Shadow,
  shadowArea,
  shadowOf,
  sharedArea,
} from './outline.ts';
