export { Utensils as default } from 'lucide';
