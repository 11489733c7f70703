export { Building2 as default } from 'lucide';
