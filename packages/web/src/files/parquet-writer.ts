/** Loaded with the first Parquet file. */
export { parquetOf } from '@vole/core';
