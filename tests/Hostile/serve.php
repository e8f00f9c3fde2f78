<?php

/*
 * Backs up one stand-in phone, as another tray's worker would, and prints how many messages it had:
 *
 *     php tests/Hostile/serve.php PHONE-FOLDER BACKUP-FOLDER
 */

declare(strict_types=1);

use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\Hostile\PreparedPhones;

require dirname(__DIR__, 2).'/vendor/autoload.php';

echo PreparedPhones::serve(new PhoneFolder($argv[1] ?? ''), $argv[2] ?? '');
