// The styles of the Mantine components on the first page, in the order in which they build on
// each other; what other pages use comes with them, see laterStyles.ts.
import "@mantine/core/styles/baseline.layer.css";
import "@mantine/core/styles/default-css-variables.layer.css";
import "@mantine/core/styles/global.layer.css";
import "@mantine/core/styles/UnstyledButton.layer.css";
import "@mantine/core/styles/Loader.layer.css";
import "@mantine/core/styles/ActionIcon.layer.css";
import "@mantine/core/styles/Button.layer.css";
