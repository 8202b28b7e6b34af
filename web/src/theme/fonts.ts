import '@fontsource-variable/fraunces/index.css'
import '@fontsource-variable/hanken-grotesk/index.css'
import '@fontsource/spline-sans-mono/400.css'
import '@fontsource/spline-sans-mono/600.css'
