<?php

/*
 * Lays prepared phones on a demonstration's bench, for the browser:
 *
 *     php tests/Hostile/bench.php FOLDER-OF-THE-PHONES
 */

declare(strict_types=1);

use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Tests\Hostile\PreparedPhones;
use Geschenk\Tests\Support\Phones;

require dirname(__DIR__, 2).'/vendor/autoload.php';

$folder = $argv[1] ?? throw new InvalidArgumentException('Which folder?');
$hostile = Phones::giving($folder, ['serial' => 'PREPARED1', 'model' => 'Prepared'], true, 400);
PreparedPhones::everyTextAndNumber($hostile);
PreparedPhones::hugeText($hostile);
DemoMaker::rest($hostile->data('otterpost'));
Phones::receiving($folder, ['serial' => 'PREPARED2', 'model' => 'Empty One']);
$bomb = Phones::giving(
    $folder, ['serial' => 'PREPARED3', 'model' => 'Bomb'], false, 60,
);
PreparedPhones::bomb($bomb);
DemoMaker::lockBackups($bomb, 'otterpost', PreparedPhones::PASSWORD);
DemoMaker::rest($bomb->data('otterpost'));
Phones::receiving($folder, ['serial' => 'PREPARED4', 'model' => 'Empty Two']);
$honest = Phones::giving($folder, ['serial' => 'PREPARED5', 'model' => 'Honest'], false, 300);
DemoMaker::rest($honest->data('otterpost'));
Phones::receiving($folder, ['serial' => 'PREPARED6', 'model' => 'Empty Three']);
