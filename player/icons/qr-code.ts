export { QrCode as default } from 'lucide';
