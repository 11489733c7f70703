export { ScanLine as default } from 'lucide';
