export { Mountain as default } from 'lucide';
