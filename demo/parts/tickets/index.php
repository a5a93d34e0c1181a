<?php

namespace Alder\Tickets;

use Alder\House\Price;

$zones = array(1 => 'inner', 2 => 'outer');
$zone = isset($_GET['zone']) ? $_GET['zone'] : 1;
?>
<h1>Tickets</h1>
<p>Zone <?= $zones[$zone] ?>: <?= Price::of($zone, true) ?></p>
