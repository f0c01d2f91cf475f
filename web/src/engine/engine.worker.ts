import { expose } from 'comlink';
import { engine } from './engine';
import { survey } from './survey';

// One script for the engine and for surveys: what they share, nearly all of it, is fetched once.
expose(self.name === 'survey' ? survey : engine);
