import { customType } from 'drizzle-orm/pg-core';

export const bytea = customType<{ data: Uint8Array; driverData: Buffer }>({
  dataType: () => 'bytea',
  toDriver: (value) => Buffer.from(value.buffer, value.byteOffset, value.byteLength),
  // small buffers share one pool: a copy has memory of its own, which other element types can be laid over
  fromDriver: (value) => new Uint8Array(value),
});
