import { ChoiceField } from '../fields/ChoiceField';
import { MODE_WORDS } from './efficiencyCharts';

const MODES = Object.entries(MODE_WORDS).map(([value, words]) => ({ value, words }));

/** What the stage does at light load. */
export const OperatingModeField = () => <ChoiceField path={['operatingMode']} label="Operating mode" choices={MODES} />;
