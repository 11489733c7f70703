import type { Table } from '../tables/schema.ts';
import { USUAL_LIMITS, type Service, type ServiceRequest } from './schema.ts';

/** A request for the goods of a supplier. For tests. */
export const goodsRequest = (more: Partial<ServiceRequest> = {}): ServiceRequest => ({
  id: 'n_goods00000',
  name: 'Get goods',
  method: 'GET',
  path: '/goods',
  query: [],
  headers: [],
  inputs: [],
  picks: [],
  ...more,
});

/** A supplier of goods. For tests. */
export const supplier = (more: Partial<Service> = {}): Service => ({
  id: 'w_supplier00',
  name: 'Supplier',
  test: 'https://test.goods.example/v1/',
  headers: [],
  sign: { how: 'none' },
  limits: USUAL_LIMITS,
  requests: [],
  ...more,
});

/** The supplier’s goods as a fetched table. For tests. */
export const goodsTable = (more: Partial<Table> = {}): Table => ({
  id: 't_goods00000',
  name: 'Goods',
  one: 'good',
  fields: [
    { id: 'f_number000', name: 'Number', type: 'number', pick: "$['id']" },
    { id: 'f_name00000', name: 'Name', type: 'text', pick: "$['name']" },
    { id: 'f_price0000', name: 'Price', type: 'number', pick: "$['price']['amount']" },
  ],
  titleField: 'f_name00000',
  pictureField: null,
  fetched: { request: 'n_goods00000', rows: '$.items', key: 'f_number000', fresh: 60 },
  ...more,
});
