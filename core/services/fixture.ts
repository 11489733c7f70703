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
