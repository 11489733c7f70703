export { Paperclip as default } from 'lucide';
