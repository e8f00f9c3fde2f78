<?php

/*
 * Lays two phones on a demonstration's bench: one with an ordinary and a business account, and an empty one on which
 * both are registered.
 *
 *     php tests/e2e/two-accounts.php FOLDER-OF-THE-PHONES GIVES RECEIVES
 */

declare(strict_types=1);

use Geschenk\Standin\Demo\Customer;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\EmptyMessenger;
use Geschenk\Standin\Phone\Hands;

require dirname(__DIR__, 2).'/vendor/autoload.php';

[, $folder, $gives, $receives] = $argv + [1 => '', 2 => '', 3 => ''];
$open = ['maker' => 'Kestrelworks', 'os_version' => '14', 'admitted' => true];
$android = $open + ['platform' => 'android', 'developer_options' => true, 'debugging' => true];
$ios = ['os_version' => '17.4'] + $open + ['platform' => 'ios', 'developer_options' => false, 'debugging' => false];
$quiet = static fn (string $line) => null;
$giving = DemoMaker::phone(
    $folder, $quiet, Customer::baker(), 11, ['serial' => $gives, 'model' => $gives] + $android,
);
DemoMaker::addAccount($giving, $quiet, Customer::bakery(), 12, false);
$receiving = DemoMaker::fresh($folder, ['serial' => $receives, 'model' => $receives] + $ios, Customer::baker());
$counter = ['number' => Customer::bakery()->number] + Hands::APPS['otterpost.counter'] + ['number' => null];
$receiving->change(static fn (array $s): array => ['apps' => [...$s['apps'], $counter]] + $s);
EmptyMessenger::install($receiving, 'otterpost.counter', Customer::bakery()->number, Customer::bakery()->name);
