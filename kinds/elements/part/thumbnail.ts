import { Component } from 'lucide-react';

export default () => Component;
