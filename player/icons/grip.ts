export { GripVertical as default } from 'lucide';
