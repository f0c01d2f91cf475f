/** In place of a picture that is not there: being worked, or what is missing. */
export function SurveyWait({ working }: { readonly working: boolean }) {
  return (
    <p className="quiet" role="status">
      {working
        ? 'Being worked …'
        : 'There is nothing to draw here yet: the stage needs a part or a corner with an operating point. The ledger says which.'}
    </p>
  );
}
