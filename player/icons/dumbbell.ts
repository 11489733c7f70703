export { Dumbbell as default } from 'lucide';
