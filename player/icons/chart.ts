export { ChartColumn as default } from 'lucide';
