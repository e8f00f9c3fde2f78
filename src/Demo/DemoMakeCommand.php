<?php

declare(strict_types=1);

namespace Geschenk\App\Demo;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\User;
use Geschenk\Core\Files\Folder;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\Bench;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand(
    'demo:make', 'Makes the demonstration: users, stand-in phones with chats, some trays; only if there is none',
)]
final class DemoMakeCommand extends Command
{
    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly DataFolder $data,
        private readonly DemoShop $shop,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption(
            'reset', null, InputOption::VALUE_NONE, 'Throw the present demonstration away and make it anew',
        )
            ->addOption(
                'cable', null, InputOption::VALUE_REQUIRED,
                'Speed of the stand-in cables in MB a second; 0 is unlimited', '4',
            );
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $isThere = $this->entities->getRepository(User::class)->count([]) > 0;
        if ($isThere && DemoMaker::isOfToday($this->data->phones()) && false === $input->getOption('reset')) {
            $output->writeln('The demonstration is there already (make it anew with --reset).');

            return Command::SUCCESS;
        }
        if ($isThere && false === $input->getOption('reset') && [] === (new Bench($this->data->phones()))->serials()) {
            $output->writeln(
                'There are users and no stand-in phones: this is a shop and no demonstration. It is left as it is.',
            );

            return Command::FAILURE;
        }
        if ($isThere && false === $input->getOption('reset')) {
            $output->writeln(
                'The demonstration is of an earlier version, whose data this one reads no more. It is made anew.',
            );
        }
        $cable = $input->getOption('cable');
        $this->shop->clear();
        foreach (['backups', 'trays', 'standin'] as $folder) {
            Folder::remove($this->data->path.'/'.$folder);
        }
        $say = static fn (string $line) => $output->writeln('  '.$line);
        DemoMaker::make($this->data->phones(), $say);
        $this->shop->open($say);
        DemoMaker::setCables($this->data->phones(), is_string($cable) && is_numeric($cable) ? (float) $cable : 0.0);

        return Command::SUCCESS;
    }
}
