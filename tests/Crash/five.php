<?php

declare(strict_types=1);

/**
 * Five customers' phones, each with chats of its own, for two technicians who work on all of them at once.
 *
 *     php tests/Crash/five.php <folder of phones>
 */

use Geschenk\Standin\Demo\Customer;
use Geschenk\Standin\Demo\DemoMaker;

require dirname(__DIR__, 2).'/vendor/autoload.php';

$folder = $argv[1] ?? throw new InvalidArgumentException('Which folder?');
for ($n = 1; $n <= 5; ++$n) {
    $customer = new Customer(
        "Customer $n", "+44770090071$n", ['family', 'bees'],
        [['title' => "Group of customer $n", 'topic' => 'bees', 'share' => 40, 'people' => 4]], 7, 300 + 60 * $n,
        ['photo' => 120, 'voice' => 60, 'document' => 30], 'hex', 2024,
    );
    $common = ['maker' => 'Bergmann', 'admitted' => true];
    $android = ['platform' => 'android', 'os_version' => '14', 'developer_options' => true, 'debugging' => true];
    $ios = ['platform' => 'ios', 'os_version' => '18.1', 'developer_options' => false, 'debugging' => false];
    $giving = DemoMaker::phone(
        $folder, static fn (string $line) => null, $customer, 20 + $n,
        ['serial' => "GIVES000$n", 'model' => "Old $n"] + $android + $common,
    );
    $receiving = DemoMaker::fresh(
        $folder, ['serial' => "TAKES000$n", 'model' => "New $n", 'owner' => $customer->name] + $ios + $common,
        $customer,
    );
    DemoMaker::rest($giving->data('otterpost'));
    DemoMaker::rest($receiving->data('otterpost'));
}
