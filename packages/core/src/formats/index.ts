export { sniffEncoding, type TextEncoding } from './sniff-bytes';
export { DelimitedReader, type DelimitedOptions, type DelimitedRecord } from './delimited-reader';
export { sniffDelimited, type DelimitedShape, type DelimitedSniff } from './sniff-delimited';
export { writeDelimitedLine } from './write-delimited';
