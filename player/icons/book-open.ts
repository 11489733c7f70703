export { BookOpen as default } from 'lucide';
