export { Droplet as default } from 'lucide';
