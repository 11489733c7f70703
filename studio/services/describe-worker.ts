import '../../kinds/given/all.ts';
import { expose } from 'comlink';
import { looksLikeOData } from '../../core/services/odata/looks.ts';
import { ODataDescription } from '../../core/services/odata/read.ts';
import { Description, type Operation } from '../../core/services/openapi/read.ts';

/** A description as the page shows it. */
export interface Described {
  name: string;
  about: string;
  address: string;
  operations: readonly Operation[];
  leftOut: readonly string[];
}
export type TakenOperation = ReturnType<Description['take']> & { key: string };

let read: Description | ODataDescription | null = null;

/** Reads descriptions of services apart from the page: real ones have megabytes. */
const worker = {
  read(text: string, what: string, from?: string): Described {
    read = looksLikeOData(text) ? ODataDescription.read(text, what, from) : Description.read(text, what, from);
    const { name, about, address, operations, leftOut } = read;
    return { name, about, address, operations, leftOut };
  },
  /** Requests made of some operations of what was read last. */
  take(keys: readonly string[]): TakenOperation[] {
    return keys.flatMap((key) => {
      const operation = read?.operations.find((o) => o.key === key);
      return operation ? [{ key, ...read!.take(operation) }] : [];
    });
  },
};
export type DescribeWorker = typeof worker;
expose(worker);
