export { ShoppingCart as default } from 'lucide';
