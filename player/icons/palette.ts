export { Palette as default } from 'lucide';
