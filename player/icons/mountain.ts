export { Mountain as default } from 'lucide-react';
