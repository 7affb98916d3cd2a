<script lang="ts"></script>

<h1>Nothing is here</h1>
<p>There is no such place. <a href="/">Go to Today</a>.</p>
