import { Heading } from 'lucide-react';

export default () => Heading;
