import { ChartColumn } from 'lucide-react';

export default () => ChartColumn;
