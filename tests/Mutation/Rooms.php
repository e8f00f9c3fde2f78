<?php

declare(strict_types=1);

namespace Geschenk\Tests\Mutation;

/**
 * Which tests are asked about a change in a room of core, in this order, the quick ones first. Every room is here;
 * DocumentsTest holds that, and that the tests are there.
 */
final class Rooms
{
    public const TESTS = [
        'Arrival' => [
            'tests/Core/Arrival/ComparisonTest.php', 'tests/Core/Store/LongestOrderTest.php', 'tests/Core/Conversion',
            'tests/Core/Arrival/HarmTest.php',
        ],
        'Transfer' => [
            'tests/Core/Transfer', 'tests/Standin/RestorerTest.php', 'tests/Standin/BackupMakerTest.php',
            'tests/Standin/BackupAndRestoreTest.php', 'tests/Standin/ReadErrorsTest.php',
            'tests/Standin/FaultsTest.php', 'tests/Journey/PutBackTest.php', 'tests/App/Work',
            'tests/Crash/PowerCutTest.php',
        ],
        'Merge' => ['tests/Core/Merge', 'tests/Core/Conversion/TwoPhonesTest.php'],
        'Conversion' => ['tests/Core/Conversion', 'tests/Core/Arrival/ComparisonTest.php'],
        'Archive' => [
            'tests/Core/Archive', 'tests/Standin/BackupMakerTest.php', 'tests/Standin/BackupAndRestoreTest.php',
            'tests/Crash/PowerCutTest.php',
        ],
        'Chat' => ['tests/Core/Store', 'tests/Core/Messenger/Otterpost/RoundTripTest.php', 'tests/Core/Arrival'],
        'Files' => ['tests/Core/Files', 'tests/Core/Archive', 'tests/Standin/BackupAndRestoreTest.php'],
        'Sqlite' => ['tests/Core/Sqlite', 'tests/Core/Messenger/Otterpost/DamageTest.php'],
        'Store' => ['tests/Core/Store', 'tests/Core/Arrival', 'tests/Core/Conversion'],
        'Phone' => ['tests/Core/Phone', 'tests/Standin/FolderPhoneLinkTest.php', 'tests/Standin/RestorerTest.php'],
        'Seal' => ['tests/Core/Seal'],
        'Stick' => ['tests/Core/Stick'],
        'SecondPlace' => ['tests/Core/SecondPlace', 'tests/Journey/SecondPlaceTest.php'],
        'ReadingCopy' => ['tests/Journey/ReadingCopyTest.php'],
        'Import' => ['tests/Standin/ImportTest.php', 'tests/Journey/ImportTest.php'],
        'WayIn' => ['tests/Standin/WaysTest.php', 'tests/Standin/BackupAndRestoreTest.php'],
        'Messenger' => ['tests/Core/Messenger', 'tests/Core/Conversion'],
    ];
}
