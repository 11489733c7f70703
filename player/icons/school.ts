export { School as default } from 'lucide';
