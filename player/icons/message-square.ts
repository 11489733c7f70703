export { MessageSquare as default } from 'lucide';
