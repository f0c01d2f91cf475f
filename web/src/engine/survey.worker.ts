import { expose } from 'comlink';
import { survey } from './survey';

expose(survey);
