<?php

declare(strict_types=1);

// Lays a messenger's data into a folder, for the test of the installation.

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Tests\Support\Phones;

require dirname(__DIR__, 2).'/vendor/autoload.php';

$folder = $argv[1] ?? throw new LogicException('Say where to.');
$phones = Folder::make($folder.'.phones');
if (!rename(Phones::giving($phones)->data('otterpost'), $folder)) {
    throw new RuntimeException('The data could not be laid there.');
}
Folder::remove($phones);
