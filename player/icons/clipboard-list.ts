export { ClipboardList as default } from 'lucide';
