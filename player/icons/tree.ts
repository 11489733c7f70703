export { TreePine as default } from 'lucide';
