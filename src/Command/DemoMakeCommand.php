<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Demo\DemoShop;
use Geschenk\App\Entity\User;
use Geschenk\Core\Files\Folder;
use Geschenk\Standin\Demo\DemoMaker;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('demo:make', 'Makes the demonstration: users, stand-in phones with chats, some trays; only if there is none')]
final class DemoMakeCommand extends Command
{
    public function __construct(private readonly EntityManagerInterface $entities, private readonly DataFolder $data, private readonly DemoShop $shop)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('reset', null, InputOption::VALUE_NONE, 'Throw the present demonstration away and make it anew')
            ->addOption('cable', null, InputOption::VALUE_REQUIRED, 'Speed of the stand-in cables in MB a second; 0 is unlimited', '4');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        if ($this->entities->getRepository(User::class)->count([]) > 0 && !$input->getOption('reset')) {
            $output->writeln(DemoMaker::isOfToday($this->data->phones()) ? 'The demonstration is there already (make it anew with --reset).' : 'The demonstration was made by an earlier version, whose data this one reads no more. Make it anew: ./geschenk demo --reset');

            return Command::SUCCESS;
        }
        $cable = $input->getOption('cable');
        $this->shop->clear();
        foreach (['backups', 'trays', 'holdings', 'standin'] as $folder) {
            Folder::remove($this->data->path.'/'.$folder);
        }
        $say = static fn (string $line) => $output->writeln('  '.$line);
        DemoMaker::make($this->data->phones(), $say);
        $this->shop->open($say);
        DemoMaker::setCables($this->data->phones(), is_string($cable) && is_numeric($cable) ? (float) $cable : 0.0);

        return Command::SUCCESS;
    }
}
