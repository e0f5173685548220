import { Alert, Button } from "@mantine/core";
import { Link } from "react-router";
import { Refused } from "../api/client";

/** What stands in place of a page that could not be shown. */
export function SignInFirst({ error }: { error: Error }) {
  const signIn = error instanceof Refused && error.status === 401;
  return (
    <main id="main" className="narrow">
      <h1>{signIn ? "Please sign in" : "Can't be shown"}</h1>
      <Alert color={signIn ? "slate" : "red"}>{error.message}</Alert>
      <div className="row">
        {signIn && (
          <Button component={Link} to={`/sign-in?back=${encodeURIComponent(location.pathname)}`}>
            Sign in
          </Button>
        )}
        <Button component={Link} to={signIn ? "/" : "/units"} variant="default">
          {signIn ? "Count without an account" : "All units"}
        </Button>
      </div>
    </main>
  );
}
