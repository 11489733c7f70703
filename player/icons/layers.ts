export { Layers as default } from 'lucide';
