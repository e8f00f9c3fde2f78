<?php

// The process that reads, as bin/read-chats, with the formats of the tests.

declare(strict_types=1);

require dirname(__DIR__, 2).'/vendor/autoload.php';

use Geschenk\Core\Messenger\ReadingProcess;
use Geschenk\Tests\Support\OtherFormats;

umask(0o077);
exit((new ReadingProcess(\STDIN, \STDOUT, OtherFormats::all()))->run());
