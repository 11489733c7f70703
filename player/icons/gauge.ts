export { Gauge as default } from 'lucide';
