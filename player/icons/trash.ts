export { Trash2 as default } from 'lucide';
