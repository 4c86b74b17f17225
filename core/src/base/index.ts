export * from './refusal';
export { divideRounded, divideUp, isLess, readDecimal, toScale, writeDecimal, type Decimal } from './decimal';
export * from './quantity';
export * from './money';
export * from './split';
export * from './calendar';
export * from './sequence';
export * from './rate';
export * from './defined';
