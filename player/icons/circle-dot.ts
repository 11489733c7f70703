export { CircleDot as default } from 'lucide';
