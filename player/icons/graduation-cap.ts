export { GraduationCap as default } from 'lucide';
