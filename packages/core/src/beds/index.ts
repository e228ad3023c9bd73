export { type Fixed, type NestItem, type Nesting, type NestRoom, nest, type Placement } from './nest.ts';
export {
  boxOfShadow,
  type FlatBox,
  mirroredShadow,
  placed,
  type Shadow,
  shadowArea,
  shadowOf,
} from './outline.ts';
export { nearerThan, sharedArea } from './shared.ts';
