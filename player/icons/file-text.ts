export { FileText as default } from 'lucide';
