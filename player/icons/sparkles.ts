export { Sparkles as default } from 'lucide';
