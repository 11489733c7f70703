export { TrainFront as default } from 'lucide';
