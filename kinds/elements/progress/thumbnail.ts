import { Loader } from 'lucide-react';

export default () => Loader;
