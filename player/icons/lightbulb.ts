export { Lightbulb as default } from 'lucide';
