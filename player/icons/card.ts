export { CreditCard as default } from 'lucide';
