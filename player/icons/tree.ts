export { TreePine as default } from 'lucide-react';
